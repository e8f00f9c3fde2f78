<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support\Formats\Quillet\Android;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\CannedAnswer;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\Label;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\MemberRole;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Chat\Source;
use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Files\Locked\Cipher;
use Geschenk\Core\Files\Locked\ContentKey;
use Geschenk\Core\Messenger\Reader;
use Geschenk\Core\Platform;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\Gathering;
use Geschenk\Core\Store\MessageRow;
use Geschenk\Core\Store\SafeJson;
use Geschenk\Core\Store\StoreWriter;

/** Gathers the events of all files, then folds those of each message into it. */
final class AndroidReader implements Reader
{
    private const LONGEST_LINE = 4_000_000;

    public function read(string $folder, AttachmentFiles $files, StoreWriter $store, Progress $progress): void
    {
        $progress->phase('reading');
        $conversations = $this->self($folder, $store);
        $gathering = new Gathering();
        for ($shard = 0; $shard < AndroidFormat::SHARDS; ++$shard) {
            foreach ($this->events($folder.'/'.AndroidFormat::shard($shard), $store) as $line) {
                $event = SafeJson::decode($line);
                $isSaid = 'say' === ($event['do'] ?? null);
                $gathering->add(
                    self::text($event, 'room'), self::text($event, 'id'), $isSaid ? self::number($event, 'no') : null,
                    $isSaid ? 0 : 1, $line,
                );
            }
        }
        foreach ($gathering->conversations() as $key) {
            $conversations[$key] ??= null;
        }
        foreach ($conversations as $key => $conversation) {
            if (null === $conversation) {
                $store->finding('room_gone', 'room', (string) $key);
            }
            $id = $store->conversation($conversation ?? new Conversation(
                (string) $key, ConversationKind::Unknown, null, null, null, false, null, null, 0, null, [],
            ));
            foreach ($gathering->messages((string) $key) as $lines) {
                try {
                    $store->message($id, $this->message($lines, $files, $store));
                } catch (\TypeError|\ValueError|\UnexpectedValueException $error) {
                    $store->finding('row_unreadable', 'say', $error->getMessage());
                    $store->lost($id, 1);
                }
                $progress->advance(1);
            }
        }
    }

    /** @return array<array-key, Conversation|null> by key */
    private function self(string $folder, StoreWriter $store): array
    {
        $conversations = [];
        foreach ($this->events($folder.'/'.AndroidFormat::SELF, $store) as $line) {
            $event = SafeJson::decode($line);
            match ($event['do'] ?? null) {
                'self' => $store->source(new Source(
                    'Quillet', self::text($event, 'edition'), Platform::Android, 1, self::text($event, 'number'),
                    self::textOrNull($event, 'name'),
                )),
                'who' => $store->person(new Person(
                    self::text($event, 'key'), self::textOrNull($event, 'number'), self::textOrNull($event, 'book'),
                    self::textOrNull($event, 'own'), true === ($event['barred'] ?? null), self::texts($event, 'more'),
                    self::textOrNull($event, 'former'),
                )),
                'label' => $store->label(new Label(self::text($event, 'name'), self::number($event, 'tint'))),
                'answer' => $store->cannedAnswer(
                    new CannedAnswer(self::text($event, 'short'), self::text($event, 'text')),
                ),
                'room' => $conversations[self::text($event, 'key')] = $this->conversation($event),
                default => $store->finding('unknown_detail', self::text($event, 'do')),
            };
        }

        return $conversations;
    }

    /** @param array<array-key, mixed> $event */
    private function conversation(array $event): Conversation
    {
        $members = array_map(static function (mixed $member): Member {
            $member = is_array($member) ? $member : [];

            return new Member(
                self::text($member, 'key'), MemberRole::from(self::text($member, 'role')),
                self::numberOrNull($member, 'joined'), self::numberOrNull($member, 'left'),
            );
        }, array_values(is_array($event['members'] ?? null) ? $event['members'] : []));

        return new Conversation(
            self::text($event, 'key'), ConversationKind::from(self::text($event, 'kind')),
            self::textOrNull($event, 'title'), self::textOrNull($event, 'about'), self::numberOrNull($event, 'created'),
            true === $event['archived'], self::numberOrNull($event, 'pin'), self::numberOrNull($event, 'muted'),
            self::number($event, 'unread'), self::textOrNull($event, 'wallpaper'), $members,
            SafeJson::map(self::textOrNull($event, 'opaque')), self::numberOrNull($event, 'timer'),
            self::textOrNull($event, 'draft'), true === $event['marked'], self::textOrNull($event, 'picture'),
            self::texts($event, 'labels'), true === $event['hidden'],
        );
    }

    /** @param non-empty-list<string> $lines */
    private function message(array $lines, AttachmentFiles $files, StoreWriter $store): Message
    {
        $said = null;
        $changes = ['attachments' => [], 'reactions' => [], 'receipts' => []];
        foreach ($lines as $line) {
            $event = SafeJson::decode($line);
            switch ($event['do'] ?? null) {
                case 'say':
                    $said = MessageRow::message(array_values(is_array($event['row']) ? $event['row'] : []), []);
                    break;
                case 'mend':
                    $changes['editedAt'] = self::number($event, 'at');
                    break;
                case 'nod':
                    $changes['reactions'][] = new Reaction(
                        self::textOrNull($event, 'who'), self::text($event, 'sign'), self::numberOrNull($event, 'at'),
                    );
                    break;
                case 'mark':
                    $changes['receipts'][] = new Receipt(
                        self::text($event, 'who'), self::numberOrNull($event, 'came'),
                        self::numberOrNull($event, 'read'), self::numberOrNull($event, 'heard'),
                    );
                    break;
                case 'keep':
                    $changes['attachments'][self::number($event, 'n')] = $this->attachment($event, $files, $store);
                    break;
                default:
                    $store->finding('unknown_detail', self::text($event, 'do'));
            }
        }
        ksort($changes['attachments']);
        $changes['attachments'] = array_values($changes['attachments']);

        return ($said ?? throw new \UnexpectedValueException('Nobody said it.'))->with($changes);
    }

    /** @param array<array-key, mixed> $event */
    private function attachment(array $event, AttachmentFiles $files, StoreWriter $store): Attachment
    {
        $path = self::text($event, 'path');
        $type = self::text($event, 'type');
        $key = $store->contentKey($path, new ContentKey(Cipher::SecretStream, self::text($event, 'key')));
        $found = $files->look($path, $type, $key);
        if (Presence::Unreadable === $found['presence']) {
            $store->finding('file_unreadable', $path);
        }

        return new Attachment(
            $path, self::textOrNull($event, 'name'), $type,
            $found['presence']->hasBytes() ? $found['bytes'] : self::number($event, 'bytes'), $found['sha256'],
            $found['presence'], self::numberOrNull($event, 'span'), self::numberOrNull($event, 'width'),
            self::numberOrNull($event, 'height'), self::textOrNull($event, 'preview'), true === $event['motion'],
        );
    }

    /** @return \Generator<int, string> lines that hold an event; what is none is listed */
    private function events(string $path, StoreWriter $store): \Generator
    {
        $stream = @fopen($path, 'r');
        if (false === $stream) {
            $store->finding('file_unreadable', basename($path));

            return;
        }
        while (false !== ($line = stream_get_line($stream, self::LONGEST_LINE, "\n"))) {
            if ([] !== SafeJson::decode($line)) {
                yield $line;
            } else {
                $store->finding('row_unreadable', basename($path), $line);
            }
        }
        fclose($stream);
    }

    /** @param array<array-key, mixed> $event */
    private static function text(array $event, string $name): string
    {
        return self::textOrNull($event, $name) ?? throw new \UnexpectedValueException("$name is missing.");
    }

    /** @param array<array-key, mixed> $event */
    private static function textOrNull(array $event, string $name): ?string
    {
        return is_string($event[$name] ?? null) ? $event[$name] : null;
    }

    /**
     * @param array<array-key, mixed> $event
     *
     * @return list<string>
     */
    private static function texts(array $event, string $name): array
    {
        return array_values(array_filter(is_array($event[$name] ?? null) ? $event[$name] : [], is_string(...)));
    }

    /** @param array<array-key, mixed> $event */
    private static function number(array $event, string $name): int
    {
        return self::numberOrNull($event, $name) ?? throw new \UnexpectedValueException("$name is missing.");
    }

    /** @param array<array-key, mixed> $event */
    private static function numberOrNull(array $event, string $name): ?int
    {
        return is_int($event[$name] ?? null) ? $event[$name] : null;
    }
}
