<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\CannedAnswer;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Label;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\MemberRole;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Chat\Quote;
use Geschenk\Core\Chat\Source;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Locked\Cipher;
use Geschenk\Core\Files\Locked\ContentKey;
use Geschenk\Core\Platform;
use Geschenk\Core\Sqlite\Blob;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Row;
use Geschenk\Core\Sqlite\Selection;
use Geschenk\Core\UnusableInput;

/** Reads a chat store as streams. */
final class ChatStore
{
    /** Bytes of an answered message that are enough to recognise it. */
    public const QUOTED = 400;
    /** Bytes of a text, of a name, and of a list of details, that a page shows at most. */
    private const SHOWN_TEXT = 20_000;
    private const SHOWN_NAME = 400;
    private const SHOWN_LIST = 200_000;

    private readonly Database $database;
    private readonly bool $hasKeys;

    /**
     * @param bool        $check  whether to look at every page first: for a file that comes from elsewhere
     * @param object|null $behind what has to be there for as long as the store is: what it was unpacked into
     *
     * @throws UnusableInput when the file is no chat store of a version known here
     */
    public function __construct(
        private readonly string $path,
        bool $check = false,
        // @phpstan-ignore property.onlyWritten (it is held for as long as this object lives)
        private readonly ?object $behind = null,
    ) {
        if (!self::recognises($path)) {
            throw UnusableInput::notMessengerData($path);
        }
        try {
            $this->database = Database::openReadOnly($path);
            $version = $this->database->one('PRAGMA user_version')?->int('user_version') ?? 0;
            $whole = $check ? $this->database->one('PRAGMA quick_check(1)')?->text('quick_check') : 'ok';
        } catch (\Exception $error) {
            throw UnusableInput::damaged($path, $error->getMessage());
        }
        if ('ok' !== $whole) {
            throw UnusableInput::damaged($path, $whole ?? 'no answer');
        }
        if (!in_array($version, StoreSchema::READ_VERSIONS, true)) {
            throw UnusableInput::unknownGeneration(
                $path, '@chat_store', $version, implode(', ', StoreSchema::READ_VERSIONS),
            );
        }
        $this->hasKeys = isset(StoreSchema::tables($version)['content_key']);
    }

    /** Another connection to it, for questions that are not asked here; nothing can be changed by it. */
    public function connect(): Database
    {
        return Database::openReadOnly($this->path);
    }

    /**
     * Makes it known to another database, which can read it and change nothing in it.
     *
     * @param string $schema what it is called there
     */
    public function attachTo(Database $database, string $schema): void
    {
        $database->attachReadOnly($this->path, $schema);
    }

    /**
     * Copies it, as somewhere to begin at.
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function copyTo(string $path): void
    {
        if (!Disk::quietly(fn (): bool => copy($this->path, $path))) {
            throw Disk::failure('write', $path);
        }
    }

    public static function recognises(string $path): bool
    {
        $header = is_file($path) ? (string) file_get_contents($path, false, null, 0, 72) : '';

        return str_starts_with($header, "SQLite format 3\0")
            && substr($header, 68, 4) === pack('N', StoreSchema::APPLICATION_ID);
    }

    /** @throws UnusableInput when it does not say of which platform it is */
    public function source(): Source
    {
        $about = [];
        foreach ($this->database->few('SELECT '.self::columns('about').' FROM about') as $row) {
            $about[$row->text('name')] = $row->nullableText('value');
        }

        return new Source(
            $about['messenger'] ?? '', $about['edition'] ?? '', Platform::tryFrom($about['platform'] ?? '')
                ?? throw UnusableInput::damaged($this->path, 'it does not say which platform it is from'),
            (int) ($about['generation'] ?? 0), $about['account'] ?? '', $about['account_name'] ?? null,
        );
    }

    /**
     * Of a store of what is meant to arrive: the moment by which lifetimes were judged, milliseconds since 1970 UTC.
     */
    public function judgedAt(): ?int
    {
        return $this->database->one("SELECT value FROM about WHERE name = 'judged_at'")?->nullableInt('value');
    }

    /** How many messages a writer puts into the receiving format. */
    public function writtenCount(): int
    {
        $sql = "SELECT COUNT(*) AS n FROM message WHERE fate NOT IN ('left_out', 'spread')";

        return $this->database->one($sql)?->int('n') ?? 0;
    }

    /** @return \Generator<int, Person> */
    public function people(): \Generator
    {
        foreach ($this->database->rows('SELECT '.self::columns('person').' FROM person ORDER BY person_id') as $row) {
            yield new Person(
                $row->text('key'), $row->nullableText('number'), $row->nullableText('book_name'),
                $row->nullableText('own_name'), $row->bool('barred'),
                self::strings($row->nullableText('other_numbers')), $row->nullableText('former_key'),
            );
        }
    }

    /** @return list<Label> of the business edition, in their order */
    public function labels(): array
    {
        return array_map(
            static fn (Row $row): Label => new Label($row->text('name'), $row->int('tint')),
            $this->database->few('SELECT '.self::columns('label').' FROM label ORDER BY place'),
        );
    }

    /** @return list<CannedAnswer> of the business edition, in their order */
    public function cannedAnswers(): array
    {
        return array_map(
            static fn (Row $row): CannedAnswer => new CannedAnswer($row->text('shortcut'), $row->text('body')),
            $this->database->few('SELECT '.self::columns('canned_answer').' FROM canned_answer ORDER BY place'),
        );
    }

    /** @return \Generator<int, StoredConversation> */
    public function conversations(): \Generator
    {
        foreach ($this->database->rows(
            'SELECT '.self::columns('conversation').' FROM conversation ORDER BY conversation_id',
        ) as $row) {
            yield $this->conversationOf($row);
        }
    }

    /** @return \Generator<int, string> key of each conversation by its id, in the order of the store */
    public function keys(): \Generator
    {
        $keys = 'SELECT conversation_id, CAST(key AS BLOB) AS key FROM conversation ORDER BY conversation_id';
        foreach ($this->database->rows($keys) as $row) {
            yield $row->int('conversation_id') => $row->text('key');
        }
    }

    /** @throws \LogicException when there is none */
    public function hasConversation(int $id): bool
    {
        return null !== $this->database->one('SELECT 1 AS here FROM conversation WHERE conversation_id = ?', [$id]);
    }

    public function conversationById(int $id): StoredConversation
    {
        $row = $this->database->one(
            'SELECT '.self::columns('conversation').' FROM conversation WHERE conversation_id = ?', [$id],
        );

        return null === $row
            ? throw new \LogicException(sprintf('There is no conversation %d.', $id))
            : $this->conversationOf($row);
    }

    /** Copies everything but the conversations into another store. */
    public function copyFrame(StoreWriter $writer): void
    {
        $writer->source($this->source());
        foreach ($this->people() as $person) {
            $writer->person($person);
        }
        foreach ($this->labels() as $label) {
            $writer->label($label);
        }
        foreach ($this->cannedAnswers() as $answer) {
            $writer->cannedAnswer($answer);
        }
        foreach ($this->contentKeys() as $path => $key) {
            $writer->contentKey($path, $key);
        }
        foreach ($this->findings() as $finding) {
            // Odd times are found again by the writer itself.
            if (!str_starts_with($finding['code'], 'time_')) {
                $writer->finding($finding['code'], $finding['subject'], $finding['example'], $finding['count']);
            }
        }
    }

    /**
     * What unlocks an attachment's file; null where it lies open.
     *
     * @throws UnusableInput when the store holds something else there
     */
    public function contentKey(string $path): ?ContentKey
    {
        $key = 'SELECT cipher, key FROM content_key WHERE path = CAST(? AS TEXT)';
        $row = $this->hasKeys ? $this->database->one($key, [new Blob($path)]) : null;

        return null === $row ? null : $this->keyOf($row);
    }

    /** @return \Generator<string, ContentKey> by path */
    public function contentKeys(): \Generator
    {
        $keys = 'SELECT '.self::columns('content_key').' FROM content_key ORDER BY path';
        foreach ($this->hasKeys ? $this->database->rows($keys) : [] as $row) {
            yield $row->text('path') => $this->keyOf($row);
        }
    }

    private function keyOf(Row $row): ContentKey
    {
        try {
            return new ContentKey(Cipher::from($row->text('cipher')), $row->text('key'));
        } catch (\ValueError|\UnexpectedValueException $error) {
            throw UnusableInput::damaged($this->path, $error->getMessage());
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
        [$first, $count] = $this->range($conversationId);
        $begin = $first + max(0, $from - 1);
        $end = $first + $count;
        $end = null === $limit ? $end : min($end, $begin + $limit);
        foreach ($this->database->lists(
            'SELECT '.self::messageColumns()
                .' FROM message WHERE message_id >= ? AND message_id < ? ORDER BY message_id',
            [$begin, $end],
        ) as $values) {
            yield $this->messageOf($values);
        }
    }

    /**
     * Where a conversation's messages are: they follow each other without a gap.
     *
     * @return array{int, int} id of the first, and how many
     */
    public function range(int $conversationId): array
    {
        $row = $this->database->one(
            'SELECT first_message_id, messages FROM conversation WHERE conversation_id = ?', [$conversationId],
        );

        return null === $row ? [0, 0] : [$row->int('first_message_id'), $row->int('messages')];
    }

    /** The first preview picture of a message, when the message is in that conversation. */
    public function previewIn(int $conversationId, int $messageId): ?string
    {
        return $this->database->one(
            'SELECT a.preview FROM attachment a JOIN message m USING (message_id) WHERE a.message_id = ? '
                .'AND m.conversation_id = ? AND a.preview IS NOT NULL ORDER BY a.attachment_id LIMIT 1',
            [$messageId, $conversationId],
        )?->nullableText('preview');
    }

    /** What a person is called here; their key when nobody knows. */
    public function nameOf(string $personKey): string
    {
        $row = $this->database->one(
            'SELECT substr(CAST(COALESCE(book_name, own_name, number, key) AS BLOB), 1, 400) AS name '
                .'FROM person WHERE key = CAST(? AS TEXT)',
            [new Blob($personKey)],
        );

        return null === $row ? $personKey : $row->text('name');
    }

    /** @return string|null null where nobody knows it */
    public function numberOf(string $personKey): ?string
    {
        return $this->database->one(
            'SELECT substr(CAST(number AS BLOB), 1, 400) AS number FROM person WHERE key = CAST(? AS TEXT)',
            [new Blob($personKey)],
        )?->nullableText('number');
    }

    /** What a conversation is called: its title, else its person's name; empty where it has neither. */
    public function titleOf(int $conversationId): string
    {
        $sql = <<<'SQL'
            SELECT substr(CAST(COALESCE(c.title, p.book_name, p.own_name, p.number, '') AS BLOB), 1, 400) AS title
            FROM conversation c LEFT JOIN person p ON p.key = c.key
            WHERE c.conversation_id = ?
            SQL;

        // An empty BLOB comes as null.
        return $this->database->one($sql, [$conversationId])?->nullableText('title') ?? '';
    }

    /**
     * The list of conversations as a phone shows it first: pinned ones on top, then by their last message; without
     * those that are archived or kept out of sight.
     *
     * @return list<array{id: int, key: string, last_id: int|null}> last_id: of the last message; null where is none
     */
    public function firstScreen(int $rows): array
    {
        $sql = <<<'SQL'
            SELECT c.conversation_id, CAST(c.key AS BLOB) AS key, m.message_id
            FROM conversation c
            LEFT JOIN message m ON c.messages > 0 AND m.message_id = c.first_message_id + c.messages - 1
            WHERE NOT c.archived AND NOT c.hidden
            ORDER BY c.pin_place IS NULL, c.pin_place, m.sent_at DESC NULLS LAST, c.conversation_id
            LIMIT ?
            SQL;

        return array_map(static fn (Row $row): array => [
            'id' => $row->int('conversation_id'), 'key' => $row->text('key'),
            'last_id' => $row->nullableInt('message_id'),
        ], $this->database->few($sql, [$rows]));
    }

    /**
     * Photos with a preview, drawn by chance.
     *
     * @param int $seed the same photos for the same number
     *
     * @return list<array{id: int, conversation_id: int, key: string, identity: string}>
     */
    public function somePictures(int $limit, int $seed): array
    {
        $sql = <<<'SQL'
            SELECT m.message_id, m.conversation_id, CAST(m.identity AS BLOB) AS identity, CAST(c.key AS BLOB) AS key
            FROM message m JOIN conversation c USING (conversation_id)
            WHERE m.kind = 'photo' AND EXISTS (SELECT 1 FROM attachment a WHERE a.message_id = m.message_id
                AND a.preview IS NOT NULL)
            ORDER BY (m.message_id * 7919 + ?) % 104729, m.message_id LIMIT ?
            SQL;

        return array_map(static fn (Row $row): array => [
            'id' => $row->int('message_id'), 'conversation_id' => $row->int('conversation_id'),
            'key' => $row->text('key'), 'identity' => $row->text('identity'),
        ], $this->database->few($sql, [$seed, $limit]));
    }

    /** @return int|null id of the message with that identity in the conversation with that key */
    public function find(string $key, string $identity): ?int
    {
        return $this->database->one(
            'SELECT m.message_id FROM message m JOIN conversation c USING (conversation_id) '
                .'WHERE m.identity = CAST(? AS TEXT) AND c.key = CAST(? AS TEXT) ORDER BY m.occurrence LIMIT 1',
            [new Blob($identity), new Blob($key)],
        )?->int('message_id');
    }

    public function message(int $messageId): ?StoredMessage
    {
        foreach ($this->database->lists(
            'SELECT '.self::messageColumns().' FROM message WHERE message_id = ?', [$messageId],
        ) as $values) {
            return $this->messageOf($values);
        }

        return null;
    }

    /**
     * The beginning of the message known under a wire id, enough to recognise it; null when it is not here or stays
     * behind.
     */
    public function quoteOf(int $conversationId, string $wireId): ?Quote
    {
        $select = 'SELECT CAST(sender_key AS BLOB), from_owner, kind, substr(CAST(body AS BLOB), 1, '.self::QUOTED
            .'), sent_at, fate FROM message WHERE identity = CAST(? AS TEXT) AND wire_id IS NOT NULL';
        $rows = $this->database->fewLists(
            $select.' AND conversation_id = ? ORDER BY occurrence LIMIT 1', [new Blob($wireId), $conversationId],
        )
            ?: $this->database->fewLists($select.' ORDER BY conversation_id, occurrence LIMIT 1', [new Blob($wireId)]);
        /** @var array{string|null, int, string, string|null, int, string}|null $row */
        $row = $rows[0] ?? null;

        return null === $row ? null : (self::quote($row) ?: null);
    }

    /**
     * @param array{
     *     string|null, int, string, string|null, int, string,
     * } $row of a message: sender, from owner, kind, beginning of the text, time, fate
     *
     * @return Quote|false false when it stays behind
     */
    public static function quote(array $row): Quote|false
    {
        return Fate::from($row[5])->isWritten()
            ? new Quote(
                $row[0], 0 !== $row[1], Kind::from($row[2]),
                null === $row[3] ? null : mb_strcut($row[3], 0, self::QUOTED, 'UTF-8'), $row[4],
            )
            : false;
    }

    /** The message known under a wire id, looked for in its own conversation first. */
    public function answered(int $conversationId, string $wireId): ?StoredMessage
    {
        $id = $this->database->one(
            'SELECT message_id FROM message WHERE identity = CAST(? AS TEXT) AND wire_id IS NOT NULL '
                .'ORDER BY conversation_id <> ?, conversation_id, occurrence LIMIT 1',
            [new Blob($wireId), $conversationId],
        )?->int('message_id');

        return null === $id ? null : $this->message($id);
    }

    /**
     * Where the message known under a wire id stands, looked for in its own conversation first.
     *
     * @return array{id: int, place: int, sent_at: int}|null times in milliseconds since 1970 UTC
     */
    public function placeOfAnswered(int $conversationId, string $wireId): ?array
    {
        $row = $this->database->one(
            'SELECT message_id, place, sent_at FROM message WHERE identity = CAST(? AS TEXT) '
                .'AND wire_id IS NOT NULL ORDER BY conversation_id <> ?, conversation_id, occurrence LIMIT 1',
            [new Blob($wireId), $conversationId],
        );

        return null === $row ? null : [
            'id' => $row->int('message_id'), 'place' => $row->int('place'), 'sent_at' => $row->int('sent_at'),
        ];
    }

    /**
     * Messages as far as a page shows them: long texts and lists are cut, previews left away. For looking, never for
     * moving.
     *
     * @return \Generator<int, StoredMessage>
     */
    public function glimpses(int $conversationId, int $from, int $limit): \Generator
    {
        [$first, $count] = $this->range($conversationId);
        $begin = $first + max(0, $from - 1);
        $sql = 'SELECT '.self::glimpseColumns()
            .' FROM message WHERE message_id >= ? AND message_id < ? ORDER BY message_id';
        foreach ($this->database->lists($sql, [$begin, min($first + $count, $begin + $limit)]) as $values) {
            yield $this->glimpseOf($values);
        }
    }

    /** One message as far as a page shows it. */
    public function glimpse(int $messageId): ?StoredMessage
    {
        foreach ($this->database->lists(
            'SELECT '.self::glimpseColumns().' FROM message WHERE message_id = ?', [$messageId],
        ) as $values) {
            return $this->glimpseOf($values);
        }

        return null;
    }

    /** @param list<mixed> $values of glimpseColumns() */
    private function glimpseOf(array $values): StoredMessage
    {
        $bytes = array_pop($values);

        return $this->messageOf(array_values($values), true, is_int($bytes) ? $bytes : 0);
    }

    private static function glimpseColumns(): string
    {
        /** @var string|null $columns */
        static $columns = null;
        $short = static fn (string $name): string => match ($name) {
            'body' => sprintf('substr(CAST(body AS BLOB), 1, %d)', self::SHOWN_TEXT),
            'wire_id', 'reply_to', 'sender_key' => sprintf('substr(CAST(%s AS BLOB), 1, %d)', $name, self::SHOWN_NAME),
            'reactions', 'receipts', 'details', 'opaque' => sprintf(
                'CASE WHEN length(CAST(%1$s AS BLOB)) > %2$d THEN NULL ELSE CAST(%1$s AS BLOB) END', $name,
                self::SHOWN_LIST,
            ),
            default => 'TEXT' === Selection::types(StoreSchema::TABLES['message'])[$name]
                ? "CAST($name AS BLOB)"
                : $name,
        };

        return $columns ??= implode(
            ', ', array_map($short, [...MessageRow::COLUMNS, 'message_id', 'place', 'fate', 'rules', 'origin']),
        ).', length(CAST(body AS BLOB))';
    }

    /** @return array<string, string|null> what each conversation is called, by its key */
    public function titles(): array
    {
        $titles = [];
        foreach ($this->database->few(
            'SELECT CAST(c.key AS BLOB) AS key, substr(CAST(COALESCE(c.title, (SELECT COALESCE(p.book_name, '
                .'p.own_name, p.number) FROM person p WHERE p.key = c.key)) AS BLOB), 1, 400) AS title '
                .'FROM conversation c',
        ) as $row) {
            $titles[$row->text('key')] = $row->nullableText('title');
        }

        return $titles;
    }

    /**
     * Counts and times of each conversation, newest first.
     *
     * @return list<array{
     *     id: int, key: string, kind: string, title: string|null, archived: bool, hidden: bool, labels: list<string>,
     *     pin_place: int|null, unread: int, lost: int, messages: int, attachments: int, attachment_bytes: int,
     *     attachments_absent: int, first_at: int|null, last_at: int|null,
     * }>
     */
    public function overview(): array
    {
        $list = [];
        $sql = <<<'SQL'
            SELECT c.conversation_id, c.key, c.kind, c.archived, c.hidden, c.labels, c.pin_place, c.unread, c.lost,
                c.messages,
                   substr(CAST(COALESCE(c.title, (SELECT COALESCE(p.book_name, p.own_name, p.number) FROM person p
                       WHERE p.key = c.key)) AS BLOB), 1, 400) AS title,
                   (SELECT MIN(sent_at) FROM message m WHERE m.message_id >= c.first_message_id
                       AND m.message_id < c.first_message_id + c.messages) AS first_at,
                   (SELECT MAX(sent_at) FROM message m WHERE m.message_id >= c.first_message_id
                       AND m.message_id < c.first_message_id + c.messages) AS last_at,
                   a.n AS attachments, a.bytes, a.absent
            FROM conversation c
            LEFT JOIN (
                -- Only of files that are there: what a missing one's row claims is anything at all.
                SELECT m.conversation_id, COUNT(*) AS n, SUM(a.presence NOT IN ('present', 'wrong_type')) AS absent,
                       SUM(CASE WHEN a.presence IN ('present', 'wrong_type') THEN a.bytes END) AS bytes
                FROM attachment a JOIN message m USING (message_id) GROUP BY m.conversation_id
            ) a USING (conversation_id)
            ORDER BY last_at DESC NULLS LAST, c.conversation_id
            SQL;
        foreach ($this->database->few($sql) as $row) {
            $list[] = [
                'id' => $row->int('conversation_id'), 'key' => $row->text('key'), 'kind' => $row->text('kind'),
                'title' => $row->nullableText('title'),
                'archived' => $row->bool('archived'), 'hidden' => $row->bool('hidden'), 'labels' => self::strings(
                    $row->nullableText('labels'),
                ), 'pin_place' => $row->nullableInt('pin_place'), 'unread' => $row->int('unread'),
                'lost' => $row->int('lost'), 'messages' => $row->int('messages'),
                'attachments' => $row->nullableInt('attachments') ?? 0,
                'attachment_bytes' => $row->nullableInt('bytes') ?? 0,
                'attachments_absent' => $row->nullableInt('absent')
                    ?? 0, 'first_at' => $row->nullableInt('first_at'), 'last_at' => $row->nullableInt('last_at'),
            ];
        }

        return $list;
    }

    /**
     * What the whole store holds. Times are milliseconds since 1970 UTC.
     *
     * @return array{
     *     conversations: int, messages: int, messages_by_kind: array<string, int>, attachments: int,
     *     attachments_present: int, attachments_missing: int, attachment_bytes: int, people: int, lost: int,
     *     first_at: int|null, last_at: int|null,
     * }
     */
    public function summary(): array
    {
        $kinds = [];
        foreach ($this->database->few(
            'SELECT kind, COUNT(*) AS n FROM message GROUP BY kind ORDER BY n DESC, kind',
        ) as $row) {
            $kinds[$row->text('kind')] = $row->int('n');
        }
        $count = fn (string $sql): ?int => $this->database->one($sql)?->nullableInt('n');

        return [
            'conversations' => $count('SELECT COUNT(*) AS n FROM conversation') ?? 0,
            'messages' => array_sum($kinds),
            'messages_by_kind' => $kinds,
            'attachments' => $count('SELECT COUNT(*) AS n FROM attachment') ?? 0,
            'attachments_present' => $count(
                "SELECT COUNT(*) AS n FROM attachment WHERE presence IN ('present', 'wrong_type')",
            ) ?? 0,
            'attachments_missing' => $count(
                "SELECT COUNT(*) AS n FROM attachment WHERE presence NOT IN ('present', 'wrong_type')",
            ) ?? 0,
            'attachment_bytes' => $count(
                "SELECT SUM(bytes) AS n FROM attachment WHERE presence IN ('present', 'wrong_type')",
            ) ?? 0,
            'people' => $count('SELECT COUNT(*) AS n FROM person') ?? 0,
            'lost' => $count('SELECT SUM(lost) AS n FROM conversation') ?? 0,
            'first_at' => $count('SELECT MIN(sent_at) AS n FROM message'),
            'last_at' => $count('SELECT MAX(sent_at) AS n FROM message'),
        ];
    }

    /** @return array{messages: int, conversations: int} that a loss rule touches, in a plan of what should arrive */
    public function touchedBy(string $rule): array
    {
        $count = fn (string $table): int => $this->database->one(
            "SELECT COUNT(*) AS n FROM $table WHERE instr(rules, ?) AND fate <> 'left_out'", ['"'.$rule.'"'],
        )?->int('n') ?? 0;

        return ['messages' => $count('message'), 'conversations' => $count('conversation')];
    }

    /** Whether the source is damaged in a way that hides how much of it is lost. */
    public function isLossUncounted(): bool
    {
        return null !== $this->database->one("SELECT 1 AS here FROM finding WHERE code = 'loss_uncounted' LIMIT 1");
    }

    /** @return list<array{code: string, subject: string, count: int, example: string|null}> */
    public function findings(): array
    {
        return array_map(
            static fn (Row $row): array => [
                'code' => $row->text('code'), 'subject' => $row->text('subject'), 'count' => $row->int('count'),
                'example' => $row->nullableText('example'),
            ],
            $this->database->few('SELECT * FROM finding ORDER BY code, subject'),
        );
    }

    public function messageCount(?int $conversationId = null): int
    {
        return null === $conversationId
            ? $this->database->one('SELECT COUNT(*) AS n FROM message')?->int('n') ?? 0
            : $this->range($conversationId)[1];
    }

    /** When the newest message was sent, leaving out times after a moment: clocks of phones are not always right. */
    public function newestUpTo(int $time): ?int
    {
        return $this->database->one(
            "SELECT MAX(sent_at) AS n FROM message WHERE sent_at <= ? AND fate NOT IN ('left_out', 'spread')", [$time],
        )?->nullableInt('n');
    }

    /** The place of the first message at or after a time, or of the last message. */
    public function placeAt(int $conversationId, int $time): int
    {
        [$first, $count] = $this->range($conversationId);

        return $this->database->one(
            'SELECT place FROM message WHERE message_id >= ? AND message_id < ? AND sent_at >= ? '
                .'ORDER BY message_id LIMIT 1',
            [$first, $first + $count, $time],
        )?->int('place') ?? $count;
    }

    public function close(): void
    {
        $this->database->close();
    }

    /** @param key-of<StoreSchema::TABLES> $table */
    private static function columns(string $table): string
    {
        /** @var array<string, string> $known */
        static $known = [];

        return $known[$table] ??= Selection::of(StoreSchema::TABLES[$table]);
    }

    private static function messageColumns(): string
    {
        /** @var string|null $columns */
        static $columns = null;

        return $columns ??= implode(', ', array_map(
            static fn (string $name): string => 'TEXT' === Selection::types(StoreSchema::TABLES['message'])[$name]
                ? sprintf('CAST(%s AS BLOB)', $name)
                : $name,
            [...MessageRow::COLUMNS, 'message_id', 'place', 'fate', 'rules', 'origin'],
        ));
    }

    private function conversationOf(Row $row): StoredConversation
    {
        $id = $row->int('conversation_id');
        $members = array_map(
            static fn (Row $m): Member => new Member(
                $m->text('person_key'), MemberRole::from($m->text('role')), $m->nullableInt('joined_at'),
                $m->nullableInt('left_at'),
            ),
            $this->database->few(
                'SELECT '.self::columns('member').' FROM member WHERE conversation_id = ? ORDER BY person_key', [$id],
            ),
        );

        return new StoredConversation($id, new Conversation(
            $row->text('key'), ConversationKind::from($row->text('kind')), $row->nullableText('title'),
            $row->nullableText('about'), $row->nullableInt('created_at'),
            $row->bool('archived'), $row->nullableInt('pin_place'), $row->nullableInt('muted_until'),
            $row->int('unread'), $row->nullableText('wallpaper'),
            $members, SafeJson::map(
                $row->nullableText('opaque'),
            ), $row->nullableInt('timer_seconds'), $row->nullableText('draft'), $row->bool('marked_unread'),
            $row->nullableText('picture'), self::strings($row->nullableText('labels')), $row->bool('hidden'),
        ), Fate::from($row->text('fate')), self::strings($row->nullableText('rules')));
    }

    /**
     * @param list<mixed> $values of messageColumns()
     *
     * @throws UnusableInput when the row is not what a chat store holds
     */
    private function messageOf(array $values, bool $isGlimpse = false, ?int $textBytes = null): StoredMessage
    {
        try {
            /**
             * @var array{
             *     string|null, int, int, string, string|null, int|null,
             * } $after what comes after MessageRow::COLUMNS begins with their last
             */
            $after = array_slice($values, count(MessageRow::COLUMNS) - 1);
            [$attachments, $id, $place, $fate, $rules, $origin] = $after;
            $message = MessageRow::message($values, null === $attachments ? [] : $this->attachments($id, $isGlimpse));

            return new StoredMessage(
                $id, $place, $message, 'whole' === $fate ? Fate::Whole : Fate::from($fate),
                null === $rules ? [] : self::strings($rules), $origin, $textBytes ?? strlen($message->text ?? ''),
            );
        } catch (\TypeError|\ValueError|\UnexpectedValueException $error) {
            throw UnusableInput::damaged($this->path, $error->getMessage());
        }
    }

    /** @param string $alias of the table in the query, with its dot */
    public static function attachmentColumns(string $alias = ''): string
    {
        return Selection::of(StoreSchema::TABLES['attachment'], null, $alias);
    }

    /**
     * @param list<mixed> $values of attachmentColumns()
     *
     * @throws \TypeError|\ValueError when they are not what a chat store holds
     */
    public static function attachmentOf(array $values): Attachment
    {
        /**
         * @var array{
         *     int, int, string, string|null, string, int, string|null, string, int|null, int|null, int|null, int,
         *     string|null,
         * } $values
         */
        [, , $path, $shownName, $mediaType, $bytes, $sha256, $presence] = $values;
        [8 => $durationMs, 9 => $width, 10 => $height, 11 => $isMotion, 12 => $preview] = $values;

        return new Attachment(
            $path, $shownName, $mediaType, $bytes, $sha256, Presence::from($presence), $durationMs, $width, $height,
            $preview, 0 !== $isMotion,
        );
    }

    /** @return list<Attachment> */
    private function attachments(int $messageId, bool $isGlimpse = false): array
    {
        $columns = self::attachmentColumns();
        if ($isGlimpse) {
            // Whether there is a preview is enough.
            $columns = str_replace('"preview"', "CASE WHEN preview IS NULL THEN NULL ELSE '' END", $columns);
        }

        return array_map(
            self::attachmentOf(...),
            $this->database->fewLists(
                'SELECT '.$columns.' FROM attachment WHERE message_id = ? ORDER BY attachment_id', [$messageId],
            ),
        );
    }

    /** @return list<string> */
    private static function strings(?string $json): array
    {
        $list = [];
        foreach (SafeJson::decode($json) as $value) {
            if (is_scalar($value)) {
                $list[] = (string) $value;
            }
        }

        return $list;
    }
}
