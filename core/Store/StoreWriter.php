<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\CannedAnswer;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\Label;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Chat\Source;
use Geschenk\Core\Chat\Times;
use Geschenk\Core\Files\Locked\Cipher;
use Geschenk\Core\Files\Locked\ContentKey;
use Geschenk\Core\Sqlite\Blob;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Insert;

/**
 * Fills a new chat store as a stream, conversation after conversation: the messages of one follow each other. The file
 * appears under its name only once it is complete.
 */
final class StoreWriter
{
    private const DAY_MS = 86_400_000;

    private readonly Database $database;
    private readonly Insert $messages;
    private readonly Insert $attachments;
    private ?int $conversation = null;
    private int $place = 0;
    private int $messageId = 0;
    private int $labels = 0;
    private int $answers = 0;
    /** Times after it are from the future. */
    public readonly int $horizon;
    /** @var array<string, array{code: string, subject: string, count: int, example: string|null}> */
    private array $findings = [];
    /** @var array<string, true> of the conversations so far: damaged data may have one twice */
    private array $keys = [];
    private bool $finished = false;
    private bool $hasGaps = false;
    /** Whether a message has a time so far off that a loss rule has to look for it. */
    private bool $hasFarTimes = false;

    public function __construct(private readonly string $path)
    {
        if (file_exists($path)) {
            throw new \LogicException(sprintf('A chat store is already at %s.', $path));
        }
        @unlink($path.'.part');
        $this->database = Database::create($path.'.part');
        // Larger pages are walked a little faster, and a store is only ever walked.
        $this->database->execute(
            'PRAGMA page_size = 8192;'.implode(';', StoreSchema::TABLES).sprintf(
                '; PRAGMA application_id = %d; PRAGMA user_version = %d;', StoreSchema::APPLICATION_ID,
                StoreSchema::VERSION,
            ),
        );
        $this->messages = new Insert($this->database, 'message', self::messageColumns());
        $this->attachments = Insert::into($this->database, 'attachment', StoreSchema::TABLES['attachment']);
        $this->horizon = (time() * 1000) + self::DAY_MS;
        $this->database->execute('BEGIN');
    }

    public function source(Source $source): void
    {
        foreach ([
            'messenger' => $source->messenger, 'edition' => $source->edition, 'platform' => $source->platform->value,
            'generation' => (string) $source->generation, 'account' => $source->account,
            'account_name' => $source->accountName,
        ] as $name => $value) {
            $this->database->insert('about', ['name' => $name, 'value' => $value]);
        }
    }

    /**
     * For a store of what is meant to arrive: the moment by which lifetimes were judged, milliseconds since 1970 UTC.
     */
    public function judgedAt(int $moment): void
    {
        $this->database->insert('about', ['name' => 'judged_at', 'value' => (string) $moment]);
    }

    public function person(Person $person): void
    {
        $this->database->run(
            'INSERT OR IGNORE INTO person (key, number, book_name, own_name, barred, other_numbers, '
                .'former_key) VALUES (?, ?, ?, ?, ?, ?, ?)',
            [
                $person->key, $person->number, $person->bookName, $person->ownName, $person->barred,
                self::json($person->otherNumbers), $person->formerKey,
            ],
        );
    }

    /** Names a person who is in the store already and had no name in the address book. */
    public function bookName(string $key, string $name): void
    {
        $this->database->run('UPDATE person SET book_name = ifnull(book_name, ?) WHERE key = ?', [$name, $key]);
    }

    public function label(Label $label): void
    {
        $this->database->insert('label', ['place' => ++$this->labels, 'name' => $label->name, 'tint' => $label->tint]);
    }

    public function cannedAnswer(CannedAnswer $answer): void
    {
        $this->database->insert(
            'canned_answer', ['place' => ++$this->answers, 'shortcut' => $answer->shortcut, 'body' => $answer->text],
        );
    }

    /**
     * Keeps what unlocks an attachment's file.
     *
     * @return ContentKey the one to look at the file with: a file has one key, the first that was told
     */
    public function contentKey(string $path, ContentKey $key): ContentKey
    {
        $this->database->run(
            'INSERT OR IGNORE INTO content_key VALUES (CAST(? AS TEXT), ?, ?)',
            [new Blob($path), $key->cipher->value, new Blob($key->bytes)],
        );
        if ($this->database->changes() > 0) {
            return $key;
        }
        $kept = $this->database->one(
            'SELECT cipher, key FROM content_key WHERE path = CAST(? AS TEXT)', [new Blob($path)],
        );

        return null === $kept ? $key : new ContentKey(Cipher::from($kept->text('cipher')), $kept->text('key'));
    }

    /**
     * Begins a conversation; its messages come next.
     *
     * @param list<string> $rules
     *
     * @return int the conversation's id in this store
     */
    public function conversation(Conversation $conversation, Fate $fate = Fate::Whole, array $rules = []): int
    {
        $this->endConversation();
        $id = $this->insertConversation($conversation, $this->messageId + 1, 0, $fate, $rules);
        $this->conversation = $id;
        $this->place = 0;

        return $id;
    }

    /**
     * A conversation whose messages are put in by their ids, by put() or in bulk.
     *
     * @param int $first    id of the first message; those of a conversation follow each other
     * @param int          $messages how many there will be
     * @param list<string> $rules
     */
    public function conversationAt(
        Conversation $conversation,
        int $first,
        int $messages,
        Fate $fate = Fate::Whole,
        array $rules = [],
    ): int {
        $this->endConversation();
        $this->messageId = max($this->messageId, $first + $messages - 1);

        return $this->insertConversation($conversation, 0 === $messages ? 1 : $first, $messages, $fate, $rules);
    }

    /** @param list<string> $rules */
    private function insertConversation(
        Conversation $conversation,
        int $first,
        int $messages,
        Fate $fate,
        array $rules,
    ): int {
        $key = $conversation->key;
        for ($n = 2; isset($this->keys[$key]); ++$n) {
            $key = $conversation->key.'~'.$n;
        }
        if ($key !== $conversation->key) {
            $this->finding('conversation_twice', 'key', $conversation->key);
        }
        $this->keys[$key] = true;
        $id = $this->database->insert(
            'conversation',
            [
                ...self::conversationValues($conversation), 'key' => $key, 'first_message_id' => $first,
                'messages' => $messages, 'fate' => $fate->value, 'rules' => self::json($rules),
            ],
        );
        self::members($this->database, $id, $conversation->members);

        return $id;
    }

    /** @param list<Member> $members */
    public static function members(Database $database, int $conversationId, array $members): void
    {
        foreach ($members as $member) {
            $database->run(
                'INSERT OR IGNORE INTO member VALUES (?, ?, ?, ?, ?)',
                [$conversationId, $member->personKey, $member->role->value, $member->joinedAt, $member->leftAt],
            );
        }
    }

    /**
     * @param list<string> $rules
     * @param int|null     $origin id of the message of which this one is a copy
     *
     * @return int the message's id in this store
     */
    public function message(
        int $conversationId,
        Message $message,
        Fate $fate = Fate::Whole,
        array $rules = [],
        ?int $origin = null,
    ): int {
        if ($conversationId !== $this->conversation) {
            throw new \LogicException('The messages of a conversation have to follow it.');
        }
        $id = ++$this->messageId;
        $this->put($id, $conversationId, ++$this->place, $message, new Fated($fate, $rules, $origin));
        $this->attach($id, $message->attachments);

        return $id;
    }

    /** Without its attachments, which may be there already; attach() puts them there. */
    public function put(
        int $id,
        int $conversationId,
        int $place,
        Message $message,
        Fated $fated = new Fated(),
    ): void {
        $this->messages->row(
            [
                $id, $conversationId, $place, MessageRow::identity($message), ...MessageRow::values($message),
                $fated->fate->value, [] === $fated->rules ? null : self::json($fated->rules), $fated->origin,
            ],
        );
        $this->hasFarTimes = $this->hasFarTimes || !self::isNear($message);
        if ($message->sentAt <= 0) {
            $this->finding(
                0 === $message->sentAt ? 'time_zero' : 'time_before_1970', 'sent_at', (string) $message->sentAt,
            );
        } elseif ($message->sentAt > $this->horizon) {
            $this->finding('time_in_future', 'sent_at', (string) $message->sentAt);
        }
    }

    /** @param list<Attachment> $attachments of a message, which itself may come later and has to get their mark */
    public function attach(int $messageId, array $attachments): void
    {
        foreach ($attachments as $attachment) {
            $this->hasFarTimes = $this->hasFarTimes || !Times::areNear($attachment->durationMs);
            $this->attachments->row([null, $messageId, ...self::attachmentValues($attachment)]);
        }
    }

    /**
     * The store's database, for readers that move rows in bulk. Columns have to get what put() would have given them.
     */
    public function bulk(): Database
    {
        return $this->database;
    }

    /** A message that could not be put in its place after all; what follows moves up. */
    public function leaveGap(int $conversationId): void
    {
        $this->hasGaps = true;
        $this->lost($conversationId, 1);
    }

    /** Notes how many of a conversation's messages were in a part of the source that can't be read any more. */
    public function lost(int $conversationId, int $messages): void
    {
        $this->database->run(
            'UPDATE conversation SET lost = lost + ? WHERE conversation_id = ?', [$messages, $conversationId],
        );
    }

    /** A preview that a reader met: one without a byte is none, and is listed. */
    public function preview(?string $bytes, string $subject): ?string
    {
        if ('' === $bytes) {
            $this->finding('preview_unreadable', $subject);
        }

        return '' === $bytes ? null : $bytes;
    }

    /** Lists something that a reader met and has no place for: what, where, how often, one example. */
    public function finding(string $code, string $subject, ?string $example = null, int $count = 1): void
    {
        $example = null === $example ? null : mb_strcut(mb_scrub(substr($example, 0, 400)), 0, 200);
        $subject = mb_strcut(mb_scrub(substr($subject, 0, 400)), 0, 200);
        $key = $code."\0".$subject;
        $this->findings[$key] ??= ['code' => $code, 'subject' => $subject, 'count' => 0, 'example' => $example];
        $this->findings[$key]['count'] += $count;
    }

    public function finish(): void
    {
        $this->endConversation();
        if ($this->hasGaps) {
            $this->closeGaps();
        }
        foreach ($this->findings as $finding) {
            $this->database->insert('finding', $finding);
        }
        if ($this->hasFarTimes) {
            $this->database->run("INSERT OR REPLACE INTO about VALUES ('far_times', '1')");
        }
        $this->database->execute(StoreSchema::INDEXES);
        StoreEditor::numberCopies($this->database);
        StoreEditor::dropQuotesOfWhatIsHere($this->database);
        $this->database->execute('COMMIT; PRAGMA analysis_limit = 400; ANALYZE;');
        $this->database->close();
        if (!rename($this->path.'.part', $this->path)) {
            throw new \RuntimeException(sprintf('The chat store at %s could not be put in place.', $this->path));
        }
        $this->finished = true;
    }

    public function __destruct()
    {
        if (!$this->finished) {
            @unlink($this->path.'.part');
        }
    }

    /**
     * A conversation's own columns by name.
     *
     * @return array<string, scalar|Blob|null>
     */
    public static function conversationValues(Conversation $conversation): array
    {
        return [
            'key' => $conversation->key, 'kind' => $conversation->kind->value, 'title' => $conversation->title,
            'about' => $conversation->about,
            'created_at' => $conversation->createdAt, 'archived' => $conversation->archived,
            'pin_place' => $conversation->pinPlace,
            'muted_until' => $conversation->mutedUntil, 'unread' => $conversation->unread,
            'wallpaper' => $conversation->wallpaper,
            'timer_seconds' => $conversation->timerSeconds, 'draft' => $conversation->draft,
            'marked_unread' => $conversation->markedUnread,
            'picture' => Blob::orNull(
                $conversation->picture,
            ), 'labels' => self::json($conversation->labels), 'hidden' => $conversation->hidden,
            'opaque' => self::json($conversation->opaque),
        ];
    }

    /** @return list<scalar|null> an attachment's columns after its ids */
    public static function attachmentValues(Attachment $attachment): array
    {
        return [
            $attachment->path, $attachment->shownName, $attachment->mediaType, $attachment->bytes, $attachment->sha256,
            $attachment->presence->value,
            $attachment->durationMs, $attachment->width, $attachment->height, $attachment->isMotion
                ? 1
                : 0, $attachment->preview,
        ];
    }

    /** @param array<array-key, scalar|null> $value */
    public static function json(array $value): ?string
    {
        return [] === $value ? null : SafeJson::encode($value);
    }

    /** Numbers all messages anew, so that those of a conversation follow each other without a gap. */
    private function closeGaps(): void
    {
        $this->database->execute(<<<'SQL'
            DELETE FROM attachment WHERE message_id NOT IN (SELECT message_id FROM message);
            CREATE TEMP TABLE renumbered AS SELECT message_id AS old, ROW_NUMBER() OVER (ORDER BY message_id) AS new,
                ROW_NUMBER() OVER (PARTITION BY conversation_id ORDER BY message_id) AS place FROM message;
            CREATE UNIQUE INDEX temp.renumbered_old ON renumbered (old);
            UPDATE message SET message_id = -r.new, place = r.place FROM renumbered r WHERE r.old = message.message_id;
            UPDATE message SET message_id = -message_id;
            UPDATE attachment SET message_id = r.new FROM renumbered r WHERE r.old = attachment.message_id;
            UPDATE conversation SET messages = (SELECT COUNT(*) FROM message m
                WHERE m.conversation_id = conversation.conversation_id),
                first_message_id = COALESCE((SELECT MIN(message_id) FROM message m
                    WHERE m.conversation_id = conversation.conversation_id), 1);
            DROP TABLE renumbered;
            SQL);
    }

    private function endConversation(): void
    {
        if (null !== $this->conversation) {
            // One in which nothing was said begins nowhere, whoever wrote it.
            $this->database->run(
                'UPDATE conversation SET messages = ?1, first_message_id = iif(?1 = 0, 1, first_message_id) '
                    .'WHERE conversation_id = ?2',
                [$this->place, $this->conversation],
            );
        }
        $this->conversation = null;
    }

    private static function isNear(Message $message): bool
    {
        $times = [
            $message->sentAt, $message->receivedAt, $message->editedAt, $message->expiresAt, $message->quote?->sentAt,
        ];
        foreach ($message->reactions as $reaction) {
            $times[] = $reaction->givenAt;
        }
        foreach ($message->receipts as $receipt) {
            array_push($times, $receipt->deliveredAt, $receipt->readAt, $receipt->heardAt);
        }

        // What is in contents is not worth taking each apart here: whoever has a long number in it is looked at.
        return Times::areNear(...$times)
            && (null === $message->content || 1 !== preg_match('/\d{16}/', serialize($message->content->toArray())));
    }

    /** @return array<string, int> */
    private static function messageColumns(): array
    {
        $columns = [
            'message_id' => \SQLITE3_INTEGER, 'conversation_id' => \SQLITE3_INTEGER, 'place' => \SQLITE3_INTEGER,
            'identity' => \SQLITE3_TEXT,
        ];
        foreach (MessageRow::COLUMNS as $name) {
            $columns[$name] = in_array($name, ['from_owner', 'sent_at', 'received_at', 'marks'], true)
                ? \SQLITE3_INTEGER
                : \SQLITE3_TEXT;
        }

        return [...$columns, 'fate' => \SQLITE3_TEXT, 'rules' => \SQLITE3_TEXT, 'origin' => \SQLITE3_INTEGER];
    }
}
