<?php

declare(strict_types=1);

namespace Geschenk\Core\Store\Lines;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Sqlite\Row;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\MessageRow;
use Geschenk\Core\Store\SafeJson;
use Geschenk\Core\Store\StoredMessage;
use Geschenk\Core\Store\StoreWriter;

/**
 * Chats as JSON Lines: docs/formats/chat-lines.md. The same chats give the same bytes. A text may be as long as a phone
 * can make it, so a long one is written in pieces.
 */
final class LinesWriter
{
    public const VERSION = 1;
    /** Bytes of a text that are written at once; of Base64 as well, so a multiple of three. */
    private const PIECE = 999_999;
    /** Columns of a message that hold JSON in a chat store, and stand as such in its line. */
    public const NESTED = ['reactions', 'receipts', 'details', 'opaque'];
    /** An attachment's, in the order of StoreWriter::attachmentValues(). */
    public const ATTACHMENT = [
        'path', 'shown_name', 'media_type', 'bytes', 'sha256', 'presence', 'duration_ms', 'width', 'height',
        'is_motion', 'preview',
    ];

    /**
     * @param iterable<Person> $people who are named
     *
     * @return \Generator<int, string> lines, each with its end; a long one in pieces
     */
    public static function lines(ChatStore $chats, Choice $choice, iterable $people): \Generator
    {
        $source = $chats->source();
        yield self::line('chats', [
            'version' => self::VERSION, 'whole' => $choice->isAll(), 'messenger' => $source->messenger,
            'edition' => $source->edition, 'platform' => $source->platform->value,
            'generation' => $source->generation, 'account' => $source->account,
            'account_name' => $source->accountName,
        ]);
        foreach ($people as $person) {
            yield self::line('person', self::person($person));
        }
        if ($choice->isAll()) {
            yield from self::frame($chats);
        }
        $lost = self::lost($chats, $choice);
        $conversations = $messages = 0;
        foreach (self::inOrder($chats, $choice) as $id) {
            $stored = $chats->conversationById($id);
            ++$conversations;
            yield self::line('conversation', self::conversation($stored->conversation) + ['lost' => $lost[$id] ?? 0]);
            foreach (self::messages($chats, $choice, $id) as $message) {
                ++$messages;
                yield from self::messageLine($message);
            }
        }
        yield self::line('end', ['conversations' => $conversations, 'messages' => $messages]);
    }

    /** @return \Generator<int, string> what belongs to no conversation */
    private static function frame(ChatStore $chats): \Generator
    {
        foreach ($chats->labels() as $label) {
            yield self::line('label', ['name' => $label->name, 'tint' => $label->tint]);
        }
        foreach ($chats->cannedAnswers() as $answer) {
            yield self::line('canned_answer', ['shortcut' => $answer->shortcut, 'body' => $answer->text]);
        }
        foreach ($chats->contentKeys() as $path => $key) {
            yield self::line('content_key', [
                'path' => $path, 'cipher' => $key->cipher->value, 'key' => base64_encode($key->bytes),
            ]);
        }
        foreach ($chats->findings() as $finding) {
            // Odd times are found again by whoever reads it.
            if (!str_starts_with($finding['code'], 'time_')) {
                yield self::line('finding', $finding);
            }
        }
    }

    /** @return \Generator<int, int> ids of the conversations, in the order of the store */
    private static function inOrder(ChatStore $chats, Choice $choice): \Generator
    {
        foreach ($chats->keys() as $id => $key) {
            if ($choice->hasConversation($key)
                && ($choice->isWholeConversations() || self::messages($chats, $choice, $id)->valid())) {
                yield $id;
            }
        }
    }

    /** @return \Generator<int, StoredMessage> */
    private static function messages(ChatStore $chats, Choice $choice, int $conversation): \Generator
    {
        foreach ($chats->messages($conversation) as $message) {
            if ($choice->hasMessage($message->message->kind, $message->message->sentAt)) {
                yield $message;
            }
        }
    }

    /** @return array<int, int> messages in a damaged part of the source, by the conversation's id */
    private static function lost(ChatStore $chats, Choice $choice): array
    {
        if (!$choice->isWholeConversations()) {
            return [];
        }
        $database = $chats->connect();
        $rows = $database->few('SELECT conversation_id, lost FROM conversation WHERE lost > 0');
        $database->close();

        return array_combine(
            array_map(static fn (Row $row): int => $row->int('conversation_id'), $rows),
            array_map(static fn (Row $row): int => $row->int('lost'), $rows),
        );
    }

    /** @return array<string, mixed> */
    private static function person(Person $person): array
    {
        return [
            'key' => $person->key, 'number' => $person->number, 'book_name' => $person->bookName,
            'own_name' => $person->ownName, 'barred' => $person->barred, 'other_numbers' => $person->otherNumbers,
            'former_key' => $person->formerKey,
        ];
    }

    /** @return array<string, mixed> */
    private static function conversation(Conversation $conversation): array
    {
        return [
            'key' => $conversation->key, ...$conversation->settings(), 'picture' => $conversation->picture,
            'labels' => $conversation->labels, 'opaque' => $conversation->opaque,
            'members' => array_map(static fn (Member $member): array => [
                'person_key' => $member->personKey, 'role' => $member->role->value, 'joined_at' => $member->joinedAt,
                'left_at' => $member->leftAt,
            ], $conversation->members),
        ];
    }

    /** @return \Generator<int, string> */
    private static function messageLine(StoredMessage $stored): \Generator
    {
        $fields = self::message($stored);
        $body = $stored->message->text ?? '';
        if (strlen($body) <= self::PIECE) {
            yield self::line('message', $fields);

            return;
        }
        unset($fields['body']);
        yield substr(self::line('message', $fields), 0, -strlen("}}\n")).',"body":"';
        yield from self::pieces($body);
        yield "\"}}\n";
    }

    /** @return \Generator<int, string> of a text as SafeJson writes it, without its quotes */
    private static function pieces(string $text): \Generator
    {
        $isPlain = !str_starts_with($text, SafeJson::PREFIX) && mb_check_encoding($text, 'UTF-8');
        if (!$isPlain) {
            yield SafeJson::PREFIX;
        }
        for ($at = 0; $at < strlen($text); $at += strlen($piece)) {
            $piece = $isPlain ? mb_strcut(substr($text, $at, self::PIECE + 4), 0, self::PIECE, 'UTF-8')
                : substr($text, $at, self::PIECE);
            yield $isPlain ? substr(json_encode($piece, SafeJson::FLAGS | \JSON_THROW_ON_ERROR), 1, -1)
                : base64_encode($piece);
        }
    }

    /** @return array<string, mixed> */
    private static function message(StoredMessage $stored): array
    {
        $line = array_combine(MessageRow::COLUMNS, MessageRow::values($stored->message));
        foreach (self::NESTED as $name) {
            $json = $line[$name];
            $line[$name] = is_string($json) ? SafeJson::decode($json) : null;
        }
        $line['attachments'] = array_map(
            static fn (array $values): array => array_combine(self::ATTACHMENT, $values),
            array_map(StoreWriter::attachmentValues(...), $stored->message->attachments),
        );

        // What is not there is not written: most messages are a text, a sender and a time.
        return array_filter($line, static fn (mixed $value): bool => null !== $value && [] !== $value);
    }

    /** @param array<string, mixed> $fields */
    private static function line(string $what, array $fields): string
    {
        return SafeJson::encode([$what => $fields])."\n";
    }
}
