<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\MemberRole;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Notice;
use Geschenk\Core\Chat\NoticeKind;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Chat\Source;
use Geschenk\Core\Messenger\UnusableInput;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Row;
use Geschenk\Core\Sqlite\Selection;

/** Reads a chat store as streams. */
final class ChatStore
{
    private readonly Database $database;

    /** @throws UnusableInput when the file is no chat store of a version known here */
    public function __construct(public readonly string $path)
    {
        if (!self::recognises($path)) {
            throw UnusableInput::notMessengerData($path);
        }
        try {
            $this->database = Database::openReadOnly($path);
            $version = $this->database->one('PRAGMA user_version')?->int('user_version') ?? 0;
            $whole = $this->database->one('PRAGMA quick_check(1)')?->text('quick_check');
        } catch (\Exception $error) {
            throw UnusableInput::damaged($path, $error->getMessage());
        }
        if ('ok' !== $whole) {
            throw UnusableInput::damaged($path, $whole ?? 'no answer');
        }
        if (Schema::VERSION !== $version) {
            throw UnusableInput::unknownGeneration($path, 'a chat store', $version, 'version '.Schema::VERSION);
        }
    }

    public static function recognises(string $path): bool
    {
        $header = is_file($path) ? (string) file_get_contents($path, false, null, 0, 72) : '';

        return str_starts_with($header, "SQLite format 3\0") && substr($header, 68, 4) === pack('N', Schema::APPLICATION_ID);
    }

    public function source(): Source
    {
        $about = [];
        foreach ($this->database->few('SELECT name, value FROM about') as $row) {
            $about[$row->text('name')] = $row->nullableText('value');
        }

        return new Source($about['messenger'] ?? '', $about['edition'] ?? '', $about['platform'] ?? '', (int) ($about['generation'] ?? 0), $about['account'] ?? '', $about['account_name'] ?? null);
    }

    /** @return \Generator<int, Person> */
    public function people(): \Generator
    {
        foreach ($this->database->rows('SELECT '.self::columns('person').' FROM person ORDER BY person_id') as $row) {
            yield new Person($row->text('key'), $row->nullableText('number'), $row->nullableText('book_name'), $row->nullableText('own_name'), $row->bool('barred'));
        }
    }

    /** @return \Generator<int, StoredConversation> */
    public function conversations(): \Generator
    {
        foreach ($this->database->rows('SELECT '.self::columns('conversation').' FROM conversation ORDER BY conversation_id') as $row) {
            yield $this->conversationOf($row);
        }
    }

    public function conversation(string $key): ?StoredConversation
    {
        $row = $this->database->one('SELECT '.self::columns('conversation').' FROM conversation WHERE key = ?', [$key]);

        return null === $row ? null : $this->conversationOf($row);
    }

    /**
     * The messages of a conversation in their order.
     *
     * @param int      $from  first place, from 1
     * @param int|null $limit all when null
     *
     * @return \Generator<int, StoredMessage>
     */
    public function messages(int $conversationId, int $from = 1, ?int $limit = null): \Generator
    {
        foreach ($this->database->rows('SELECT '.self::columns('message').' FROM message WHERE conversation_id = ? AND place >= ? ORDER BY place LIMIT ?', [$conversationId, $from, $limit ?? -1]) as $row) {
            yield $this->messageOf($row);
        }
    }

    /** The first preview picture of a message, when the message is in that conversation. */
    public function previewIn(int $conversationId, int $messageId): ?string
    {
        return $this->database->one('SELECT a.preview FROM attachment a JOIN message m USING (message_id) WHERE m.message_id = ? AND m.conversation_id = ? AND a.preview IS NOT NULL ORDER BY a.attachment_id LIMIT 1', [$messageId, $conversationId])?->nullableText('preview');
    }

    /** What a person is called here; their key when nobody knows. */
    public function nameOf(string $personKey): string
    {
        $row = $this->database->one('SELECT COALESCE(book_name, own_name, number, key) AS name FROM person WHERE key = ?', [$personKey]);

        return null === $row ? $personKey : $row->text('name');
    }

    public function message(int $messageId): ?StoredMessage
    {
        $row = $this->database->one('SELECT '.self::columns('message').' FROM message WHERE message_id = ?', [$messageId]);

        return null === $row ? null : $this->messageOf($row);
    }

    /** The newest message known under a wire id, looked for in its own conversation first. */
    public function answered(int $conversationId, string $wireId): ?StoredMessage
    {
        $row = $this->database->one('SELECT '.self::columns('message').' FROM message WHERE conversation_id = ? AND identity = ? ORDER BY occurrence LIMIT 1', [$conversationId, 'w:'.$wireId]);

        return null === $row ? null : $this->messageOf($row);
    }

    /**
     * Counts and times of each conversation, newest first.
     *
     * @return list<array{id: int, key: string, kind: string, title: string|null, archived: bool, pin_place: int|null, unread: int, messages: int, attachments: int, attachment_bytes: int, attachments_absent: int, first_at: int|null, last_at: int|null}>
     */
    public function overview(): array
    {
        $list = [];
        $sql = <<<'SQL'
            SELECT c.conversation_id, c.key, c.kind, c.archived, c.pin_place, c.unread,
                   COALESCE(c.title, (SELECT COALESCE(p.book_name, p.own_name, p.number) FROM person p WHERE p.key = c.key)) AS title,
                   m.n, m.first_at, m.last_at, a.n AS attachments, a.bytes, a.absent
            FROM conversation c
            LEFT JOIN (SELECT conversation_id, COUNT(*) AS n, MIN(sent_at) AS first_at, MAX(sent_at) AS last_at FROM message GROUP BY conversation_id) m USING (conversation_id)
            LEFT JOIN (SELECT m.conversation_id, COUNT(*) AS n, SUM(a.bytes) AS bytes, SUM(a.presence <> 'present') AS absent FROM attachment a JOIN message m USING (message_id) GROUP BY m.conversation_id) a USING (conversation_id)
            ORDER BY m.last_at DESC NULLS LAST, c.conversation_id
            SQL;
        foreach ($this->database->few($sql) as $row) {
            $list[] = [
                'id' => $row->int('conversation_id'), 'key' => $row->text('key'), 'kind' => $row->text('kind'), 'title' => $row->nullableText('title'),
                'archived' => $row->bool('archived'), 'pin_place' => $row->nullableInt('pin_place'), 'unread' => $row->int('unread'),
                'messages' => $row->nullableInt('n') ?? 0, 'attachments' => $row->nullableInt('attachments') ?? 0, 'attachment_bytes' => $row->nullableInt('bytes') ?? 0,
                'attachments_absent' => $row->nullableInt('absent') ?? 0, 'first_at' => $row->nullableInt('first_at'), 'last_at' => $row->nullableInt('last_at'),
            ];
        }

        return $list;
    }

    /**
     * What the whole store holds. Times are milliseconds since 1970 UTC.
     *
     * @return array{conversations: int, messages: int, messages_by_kind: array<string, int>, attachments: int, attachments_present: int, attachments_missing: int, attachment_bytes: int, people: int, first_at: int|null, last_at: int|null}
     */
    public function summary(): array
    {
        $kinds = [];
        foreach ($this->database->few('SELECT kind, COUNT(*) AS n FROM message GROUP BY kind ORDER BY n DESC, kind') as $row) {
            $kinds[$row->text('kind')] = $row->int('n');
        }
        $count = fn (string $sql): ?int => $this->database->one($sql)?->nullableInt('n');

        return [
            'conversations' => $count('SELECT COUNT(*) AS n FROM conversation') ?? 0,
            'messages' => array_sum($kinds),
            'messages_by_kind' => $kinds,
            'attachments' => $count('SELECT COUNT(*) AS n FROM attachment') ?? 0,
            'attachments_present' => $count("SELECT COUNT(*) AS n FROM attachment WHERE presence = 'present'") ?? 0,
            'attachments_missing' => $count("SELECT COUNT(*) AS n FROM attachment WHERE presence <> 'present'") ?? 0,
            'attachment_bytes' => $count("SELECT SUM(bytes) AS n FROM attachment WHERE presence = 'present'") ?? 0,
            'people' => $count('SELECT COUNT(*) AS n FROM person') ?? 0,
            'first_at' => $count('SELECT MIN(sent_at) AS n FROM message'),
            'last_at' => $count('SELECT MAX(sent_at) AS n FROM message'),
        ];
    }

    /** @return list<array{code: string, subject: string, count: int, example: string|null}> */
    public function findings(): array
    {
        return array_map(
            static fn (Row $row): array => ['code' => $row->text('code'), 'subject' => $row->text('subject'), 'count' => $row->int('count'), 'example' => $row->nullableText('example')],
            $this->database->few('SELECT * FROM finding ORDER BY code, subject'),
        );
    }

    public function messageCount(?int $conversationId = null): int
    {
        return null === $conversationId
            ? $this->database->one('SELECT COUNT(*) AS n FROM message')?->int('n') ?? 0
            : $this->database->one('SELECT COUNT(*) AS n FROM message WHERE conversation_id = ?', [$conversationId])?->int('n') ?? 0;
    }

    /** When the newest message was sent, leaving out times after a moment: clocks of phones are not always right. */
    public function newestUpTo(int $time): ?int
    {
        return $this->database->one('SELECT MAX(sent_at) AS n FROM message WHERE sent_at <= ?', [$time])?->nullableInt('n');
    }

    /** The place of the first message at or after a time, or of the last message. */
    public function placeAt(int $conversationId, int $time): int
    {
        return $this->database->one('SELECT place FROM message WHERE conversation_id = ? AND sent_at >= ? ORDER BY place LIMIT 1', [$conversationId, $time])?->int('place')
            ?? $this->messageCount($conversationId);
    }

    public function close(): void
    {
        $this->database->close();
    }

    /** @param key-of<Schema::TABLES> $table */
    private static function columns(string $table): string
    {
        /** @var array<string, string> $known */
        static $known = [];

        return $known[$table] ??= Selection::of(Schema::TABLES[$table]);
    }

    private function conversationOf(Row $row): StoredConversation
    {
        $id = $row->int('conversation_id');
        $members = array_map(
            static fn (Row $m): Member => new Member($m->text('person_key'), MemberRole::from($m->text('role')), $m->nullableInt('joined_at'), $m->nullableInt('left_at')),
            $this->database->few('SELECT '.self::columns('member').' FROM member WHERE conversation_id = ? ORDER BY person_key', [$id]),
        );

        return new StoredConversation($id, new Conversation(
            $row->text('key'), ConversationKind::from($row->text('kind')), $row->nullableText('title'), $row->nullableText('about'), $row->nullableInt('created_at'),
            $row->bool('archived'), $row->nullableInt('pin_place'), $row->nullableInt('muted_until'), $row->int('unread'), $row->nullableText('wallpaper'),
            $members, SafeJson::map($row->nullableText('opaque')),
        ), Fate::from($row->text('fate')), self::rules($row->nullableText('rules')));
    }

    private function messageOf(Row $row): StoredMessage
    {
        $id = $row->int('message_id');
        $attachments = array_map(
            static fn (Row $a): Attachment => new Attachment($a->text('path'), $a->nullableText('shown_name'), $a->text('media_type'), $a->int('bytes'), $a->nullableText('sha256'), Presence::from($a->text('presence')), $a->nullableInt('duration_ms'), $a->nullableInt('width'), $a->nullableInt('height'), $a->nullableText('preview')),
            $this->database->few('SELECT '.self::columns('attachment').' FROM attachment WHERE message_id = ? ORDER BY attachment_id', [$id]),
        );
        $reactions = array_map(
            static fn (Row $r): Reaction => new Reaction($r->nullableText('person_key'), $r->text('sign'), $r->nullableInt('given_at')),
            $this->database->few('SELECT '.self::columns('reaction').' FROM reaction WHERE message_id = ?', [$id]),
        );
        $receipts = array_map(
            static fn (Row $r): Receipt => new Receipt($r->text('person_key'), $r->nullableInt('delivered_at'), $r->nullableInt('read_at'), $r->nullableInt('heard_at')),
            $this->database->few('SELECT '.self::columns('receipt').' FROM receipt WHERE message_id = ?', [$id]),
        );

        return new StoredMessage($id, $row->int('place'), new Message(
            $row->nullableText('wire_id'), $row->nullableText('sender_key'), $row->bool('from_owner'), Kind::from($row->text('kind')), $row->nullableText('body'),
            $row->int('sent_at'), $row->nullableInt('received_at'), DeliveryState::from($row->text('state')), $row->bool('starred'), $row->bool('forwarded'),
            $row->nullableText('reply_to'), self::notice($row->nullableText('notice')),
            $attachments, $reactions, $receipts, SafeJson::map($row->nullableText('opaque')),
        ), Fate::from($row->text('fate')), self::rules($row->nullableText('rules')));
    }

    /** @return list<string> */
    private static function rules(?string $json): array
    {
        return array_values(array_map(strval(...), SafeJson::decode($json)));
    }

    private static function notice(?string $json): ?Notice
    {
        if (null === $json) {
            return null;
        }
        $parts = array_map(static fn (mixed $part): ?string => null === $part ? null : (string) $part, array_values(SafeJson::decode($json)));

        return new Notice(NoticeKind::from($parts[0] ?? ''), $parts[1] ?? null, $parts[2] ?? null, $parts[3] ?? null);
    }
}
