<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Chat\Source;
use Geschenk\Core\Sqlite\Blob;
use Geschenk\Core\Sqlite\Database;

/** Fills a new chat store as a stream. The file appears under its name only once it is complete. */
final class StoreWriter
{
    private readonly Database $database;
    /** @var array<int, int> next place by conversation id */
    private array $places = [];
    /** @var array<string, array{code: string, subject: string, count: int, example: string|null}> */
    private array $findings = [];
    private bool $finished = false;

    public function __construct(private readonly string $path)
    {
        if (file_exists($path)) {
            throw new \LogicException(sprintf('A chat store is already at %s.', $path));
        }
        @unlink($path.'.part');
        $this->database = Database::create($path.'.part');
        $this->database->execute(implode(';', Schema::TABLES).sprintf('; PRAGMA application_id = %d; PRAGMA user_version = %d;', Schema::APPLICATION_ID, Schema::VERSION));
        $this->database->execute('BEGIN');
    }

    public function source(Source $source): void
    {
        foreach (['messenger' => $source->messenger, 'edition' => $source->edition, 'platform' => $source->platform, 'generation' => (string) $source->generation, 'account' => $source->account, 'account_name' => $source->accountName] as $name => $value) {
            $this->database->insert('about', ['name' => $name, 'value' => $value]);
        }
    }

    public function person(Person $person): void
    {
        $this->database->run('INSERT OR IGNORE INTO person (key, number, book_name, own_name, barred) VALUES (?, ?, ?, ?, ?)', [$person->key, $person->number, $person->bookName, $person->ownName, $person->barred]);
    }

    /**
     * @param list<string> $rules
     *
     * @return int the conversation's id in this store
     */
    public function conversation(Conversation $conversation, Fate $fate = Fate::Whole, array $rules = []): int
    {
        $id = $this->database->insert('conversation', [
            'key' => $conversation->key, 'kind' => $conversation->kind->value, 'title' => $conversation->title, 'about' => $conversation->about,
            'created_at' => $conversation->createdAt, 'archived' => $conversation->archived, 'pin_place' => $conversation->pinPlace,
            'muted_until' => $conversation->mutedUntil, 'unread' => $conversation->unread, 'wallpaper' => $conversation->wallpaper,
            'opaque' => self::json($conversation->opaque), 'fate' => $fate->value, 'rules' => self::json($rules),
        ]);
        foreach ($conversation->members as $member) {
            $this->database->run('INSERT OR IGNORE INTO member VALUES (?, ?, ?, ?, ?)', [$id, $member->personKey, $member->role->value, $member->joinedAt, $member->leftAt]);
        }
        $this->places[$id] = 0;

        return $id;
    }

    /** @param list<string> $rules */
    public function message(int $conversationId, Message $message, Fate $fate = Fate::Whole, array $rules = []): void
    {
        $id = $this->database->insert('message', [
            'conversation_id' => $conversationId, 'place' => ++$this->places[$conversationId], 'identity' => $message->identity(), 'occurrence' => 1,
            'digest' => new Blob($message->digest()), 'wire_id' => $message->wireId, 'sender_key' => $message->senderKey, 'from_owner' => $message->fromOwner,
            'kind' => $message->kind->value, 'body' => $message->text, 'sent_at' => $message->sentAt, 'received_at' => $message->receivedAt,
            'state' => $message->state->value, 'starred' => $message->starred, 'forwarded' => $message->forwarded, 'reply_to' => $message->replyTo,
            'notice' => null === $message->notice ? null : self::json($message->notice->canonical()), 'opaque' => self::json($message->opaque),
            'fate' => $fate->value, 'rules' => self::json($rules),
        ]);
        foreach ($message->attachments as $attachment) {
            $this->database->insert('attachment', [
                'message_id' => $id, 'path' => $attachment->path, 'shown_name' => $attachment->shownName, 'media_type' => $attachment->mediaType,
                'bytes' => $attachment->bytes, 'sha256' => $attachment->sha256, 'presence' => $attachment->presence->value,
                'duration_ms' => $attachment->durationMs, 'width' => $attachment->width, 'height' => $attachment->height, 'preview' => Blob::orNull($attachment->preview),
            ]);
        }
        foreach ($message->reactions as $reaction) {
            $this->database->insert('reaction', ['message_id' => $id, 'person_key' => $reaction->personKey, 'sign' => $reaction->sign, 'given_at' => $reaction->givenAt]);
        }
        foreach ($message->receipts as $receipt) {
            $this->database->insert('receipt', ['message_id' => $id, 'person_key' => $receipt->personKey, 'delivered_at' => $receipt->deliveredAt, 'read_at' => $receipt->readAt, 'heard_at' => $receipt->heardAt]);
        }
    }

    /** Lists something that a reader met and has no place for: what, where, how often, one example. */
    public function finding(string $code, string $subject, ?string $example = null, int $count = 1): void
    {
        $key = $code."\0".$subject;
        $this->findings[$key] ??= ['code' => $code, 'subject' => $subject, 'count' => 0, 'example' => $example];
        $this->findings[$key]['count'] += $count;
    }

    public function finish(): void
    {
        foreach ($this->findings as $finding) {
            $this->database->insert('finding', $finding);
        }
        // The same message may stand twice in a conversation: number its copies, so that each finds its own counterpart.
        $this->database->execute(<<<'SQL'
            CREATE INDEX message_copies ON message (conversation_id, identity, place);
            UPDATE message SET occurrence = copies.n FROM (
                SELECT message_id, ROW_NUMBER() OVER (PARTITION BY conversation_id, identity ORDER BY place) AS n FROM message
            ) AS copies WHERE copies.message_id = message.message_id AND copies.n > 1;
            DROP INDEX message_copies;
            SQL);
        $this->database->execute(Schema::INDEXES);
        $this->database->execute('COMMIT; ANALYZE;');
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

    /** @param array<array-key, scalar|null> $value */
    private static function json(array $value): ?string
    {
        return [] === $value ? null : SafeJson::encode($value);
    }
}
