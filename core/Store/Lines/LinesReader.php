<?php

declare(strict_types=1);

namespace Geschenk\Core\Store\Lines;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\CannedAnswer;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\Label;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\MemberRole;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Chat\Source;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Locked\Cipher;
use Geschenk\Core\Files\Locked\ContentKey;
use Geschenk\Core\Platform;
use Geschenk\Core\Store\MessageRow;
use Geschenk\Core\Store\SafeJson;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Core\UnusableInput;

/**
 * Reads chats that were taken as JSON Lines into a chat store. What is in them is believed in nothing: a line that
 * can't be read costs itself and is listed, and a file without its end is refused.
 */
final class LinesReader
{
    /** Bytes of a line at most; a longer one can't be read. */
    private const LONGEST = 200_000_000;
    private const ENOUGH_CONVERSATIONS = 1_000_000;

    private ?int $conversation = null;
    private int $conversations = 0;
    private int $messages = 0;
    /** Of the line that is read. */
    private int $number = 0;

    private function __construct(private readonly string $path, private readonly StoreWriter $writer)
    {
    }

    public static function recognises(string $path): bool
    {
        return is_file($path) && '{"chats"' === @file_get_contents($path, false, null, 0, 8);
    }

    /**
     * @param string $target of the chat store; nothing lies there before, and nothing where it fails
     *
     * @return array{conversations: int, messages: int, unreadable: int} what was read, and lines that could not be
     *
     * @throws UnusableInput
     */
    public static function read(string $path, string $target): array
    {
        is_file($path) ?: throw UnusableInput::notThere($path);
        $lines = Disk::open($path, 'r');
        try {
            $head = SafeJson::decode((string) fgets($lines, self::LONGEST))['chats'] ?? null;
            if (!is_array($head)) {
                throw UnusableInput::notMessengerData($path);
            }
            $version = is_int($head['version'] ?? null) ? $head['version'] : 0;
            if (LinesWriter::VERSION !== $version) {
                throw UnusableInput::unknownGeneration(
                    $path, '@chat_lines', $version, (string) LinesWriter::VERSION,
                );
            }
            $reader = new self($path, new StoreWriter($target));
            $reader->writer->source(self::source($path, $head));

            return $reader->all($lines);
        } finally {
            fclose($lines);
        }
    }

    /**
     * @param resource $lines
     *
     * @return array{conversations: int, messages: int, unreadable: int}
     */
    private function all(mixed $lines): array
    {
        $unreadable = 0;
        $end = null;
        $this->number = 1;
        while (null === $end && false !== ($text = fgets($lines, self::LONGEST))) {
            ++$this->number;
            $isWhole = str_ends_with($text, "\n");
            while (!$isWhole && false !== ($more = fgets($lines, 1_000_000))) {
                $isWhole = str_ends_with($more, "\n");
                $text = '';
            }
            if (!$isWhole) {
                break;
            }
            $line = SafeJson::decode($text);
            $what = array_key_first($line);
            $fields = is_array($line[$what] ?? null) ? $line[$what] : [];
            if ('end' === $what) {
                $end = $fields;
                continue;
            }
            if (!$this->take((string) $what, $fields)) {
                ++$unreadable;
                $this->writer->finding('row_unreadable', 'line '.$this->number);
                if (null !== $this->conversation && 'message' === $what) {
                    $this->writer->lost($this->conversation, 1);
                }
            }
        }
        if (null === $end) {
            throw UnusableInput::cutShort($this->path, $this->number, $this->number + 1);
        }
        $promised = is_int($end['messages'] ?? null) ? $end['messages'] : 0;
        if ($promised !== $this->messages + $unreadable && $promised !== $this->messages) {
            throw UnusableInput::cutShort($this->path, $this->messages, $promised);
        }
        $this->writer->finish();

        return ['conversations' => $this->conversations, 'messages' => $this->messages, 'unreadable' => $unreadable];
    }

    /**
     * @param array<array-key, mixed> $fields
     *
     * @return bool false where the line is not what it has to be
     */
    private function take(string $what, array $fields): bool
    {
        try {
            switch ($what) {
                case 'person':
                    $this->writer->person(self::person($fields));

                    return true;
                case 'conversation':
                    $this->beginConversation($fields);

                    return true;
                case 'message':
                    return $this->message($fields);
                case 'label':
                    $this->writer->label(new Label(
                        self::text($fields['name'] ?? null), self::whole($fields['tint'] ?? null) ?? 0,
                    ));

                    return true;
                case 'canned_answer':
                    $this->writer->cannedAnswer(new CannedAnswer(
                        self::text($fields['shortcut'] ?? null), self::text($fields['body'] ?? null),
                    ));

                    return true;
                case 'content_key':
                    $key = (string) base64_decode(self::text($fields['key'] ?? null), true);
                    $this->writer->contentKey(
                        self::text($fields['path'] ?? null),
                        new ContentKey(Cipher::from(self::text($fields['cipher'] ?? null)), $key),
                    );

                    return true;
                case 'finding':
                    $this->writer->finding(
                        self::text($fields['code'] ?? null), self::text($fields['subject'] ?? null),
                        self::textOrNull($fields['example'] ?? null), self::whole($fields['count'] ?? null) ?? 1,
                    );

                    return true;
                default:
                    return false;
            }
        } catch (\TypeError|\ValueError|\UnexpectedValueException) {
            return false;
        }
    }

    /** @param array<array-key, mixed> $fields */
    private function beginConversation(array $fields): void
    {
        // Whoever it is of gets none of another's messages.
        $this->conversation = null;
        if (++$this->conversations > self::ENOUGH_CONVERSATIONS) {
            throw UnusableInput::damaged($this->path, 'more conversations than anybody has');
        }
        $members = [];
        foreach (self::list($fields['members'] ?? []) as $member) {
            $member = self::list($member);
            $members[] = new Member(
                self::text($member['person_key'] ?? null), MemberRole::from(self::text($member['role'] ?? null)),
                self::whole($member['joined_at'] ?? null), self::whole($member['left_at'] ?? null),
            );
        }
        $opaque = array_filter(
            self::list($fields['opaque'] ?? []), static fn (mixed $value): bool => null === $value || is_scalar($value),
        );
        $this->conversation = $this->writer->conversation(new Conversation(
            self::text($fields['key'] ?? null), ConversationKind::from(self::text($fields['kind'] ?? null)),
            self::textOrNull($fields['title'] ?? null), self::textOrNull($fields['about'] ?? null),
            self::whole($fields['created_at'] ?? null), true === ($fields['archived'] ?? null),
            self::whole($fields['pin_place'] ?? null), self::whole($fields['muted_until'] ?? null),
            self::whole($fields['unread'] ?? null) ?? 0, self::textOrNull($fields['wallpaper'] ?? null), $members,
            array_combine(array_map(strval(...), array_keys($opaque)), $opaque),
            self::whole($fields['timer_seconds'] ?? null), self::textOrNull($fields['draft'] ?? null),
            true === ($fields['marked_unread'] ?? null), self::textOrNull($fields['picture'] ?? null),
            array_values(array_map(self::text(...), self::list($fields['labels'] ?? []))),
            true === ($fields['hidden'] ?? null),
        ));
        $lost = self::whole($fields['lost'] ?? null) ?? 0;
        if ($lost > 0) {
            $this->writer->lost($this->conversation, $lost);
        }
    }

    /** @param array<array-key, mixed> $fields */
    private function message(array $fields): bool
    {
        if (null === $this->conversation) {
            return false;
        }
        $attachments = array_values(array_map(
            static fn (mixed $one): Attachment => self::attachment(self::list($one)),
            self::list($fields['attachments'] ?? []),
        ));
        $values = [];
        foreach (MessageRow::COLUMNS as $name) {
            $value = $fields[$name] ?? null;
            $values[] = in_array($name, LinesWriter::NESTED, true)
                ? (is_array($value) && [] !== $value ? SafeJson::encode($value) : null)
                : $value;
        }
        array_pop($values);
        $message = MessageRow::message([...$values, null], $attachments);
        $this->writer->message($this->conversation, $message);
        ++$this->messages;

        return true;
    }

    /** @param array<array-key, mixed> $fields */
    private static function attachment(array $fields): Attachment
    {
        $presence = Presence::from(self::text($fields['presence'] ?? null));

        return new Attachment(
            self::text($fields['path'] ?? null), self::textOrNull($fields['shown_name'] ?? null),
            self::text($fields['media_type'] ?? null), self::whole($fields['bytes'] ?? null) ?? 0,
            self::textOrNull($fields['sha256'] ?? null), $presence, self::whole($fields['duration_ms'] ?? null),
            self::whole($fields['width'] ?? null), self::whole($fields['height'] ?? null),
            self::textOrNull($fields['preview'] ?? null), 1 === ($fields['is_motion'] ?? null),
        );
    }

    /** @param array<array-key, mixed> $fields */
    private static function person(array $fields): Person
    {
        return new Person(
            self::text($fields['key'] ?? null), self::textOrNull($fields['number'] ?? null),
            self::textOrNull($fields['book_name'] ?? null), self::textOrNull($fields['own_name'] ?? null),
            true === ($fields['barred'] ?? null),
            array_values(array_map(self::text(...), self::list($fields['other_numbers'] ?? []))),
            self::textOrNull($fields['former_key'] ?? null),
        );
    }

    /**
     * @param array<array-key, mixed> $head
     *
     * @throws UnusableInput
     */
    private static function source(string $path, array $head): Source
    {
        try {
            return new Source(
                self::text($head['messenger'] ?? null), self::text($head['edition'] ?? null),
                Platform::from(self::text($head['platform'] ?? null)), self::whole($head['generation'] ?? null) ?? 0,
                self::text($head['account'] ?? null), self::textOrNull($head['account_name'] ?? null),
            );
        } catch (\TypeError|\ValueError|\UnexpectedValueException $error) {
            throw UnusableInput::damaged($path, $error->getMessage(), $error);
        }
    }

    /**
     * @return array<array-key, mixed>
     *
     * @throws \UnexpectedValueException
     */
    private static function list(mixed $value): array
    {
        return is_array($value) ? $value : throw new \UnexpectedValueException('Not a list.');
    }

    /** @throws \UnexpectedValueException */
    private static function text(mixed $value): string
    {
        return is_string($value) ? $value : throw new \UnexpectedValueException('Not a text.');
    }

    /** @throws \UnexpectedValueException */
    private static function textOrNull(mixed $value): ?string
    {
        return null === $value ? null : self::text($value);
    }

    /** @throws \UnexpectedValueException */
    private static function whole(mixed $value): ?int
    {
        return null === $value || is_int($value) ? $value : throw new \UnexpectedValueException('Not a whole number.');
    }
}
