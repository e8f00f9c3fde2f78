<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Insert;

/** Changes single conversations and messages of a chat store that is not finished yet. */
final class StoreEditor
{
    private readonly Insert $attachments;
    private bool $identitiesChanged = false;

    public function __construct(private readonly Database $database)
    {
        $this->attachments = Insert::into($database, 'attachment', StoreSchema::TABLES['attachment']);
    }

    /** @param list<string> $rules names of the loss rules that apply to the conversation itself */
    public function conversation(int $id, Conversation $conversation, array $rules): void
    {
        $values = [...StoreWriter::conversationValues($conversation), 'rules' => StoreWriter::json($rules)];
        $this->database->run(
            'UPDATE conversation SET '.implode(
                ', ', array_map(static fn (string $c): string => "$c = :$c", array_keys($values)),
            ).' WHERE conversation_id = :id',
            [...$values, 'id' => $id],
        );
        $this->database->run('DELETE FROM member WHERE conversation_id = ?', [$id]);
        StoreWriter::members($this->database, $id, $conversation->members);
    }

    public function message(int $id, Message $before, Message $after): void
    {
        $identity = MessageRow::identity($after);
        $this->identitiesChanged = $this->identitiesChanged || $identity !== MessageRow::identity($before);
        $this->database->run(
            'UPDATE message SET identity = ?, '.implode(
                ', ', array_map(static fn (string $c): string => "$c = ?", MessageRow::COLUMNS),
            ).' WHERE message_id = ?',
            [$identity, ...MessageRow::values($after), $id],
        );
        if ($before->attachments !== $after->attachments) {
            $this->database->run('DELETE FROM attachment WHERE message_id = ?', [$id]);
            foreach ($after->attachments as $attachment) {
                $this->attachments->row([null, $id, ...StoreWriter::attachmentValues($attachment)]);
            }
        }
    }

    public function finish(): void
    {
        // One of two copies may have been left out: the other is then the first that arrives.
        if ($this->identitiesChanged || null !== $this->database->one(
            'SELECT 1 AS here FROM message WHERE occurrence > 1 LIMIT 1',
        )) {
            $this->database->execute('UPDATE message SET occurrence = 1 WHERE occurrence > 1');
            self::numberCopies($this->database);
        }
    }

    /**
     * The same message may stand twice in a conversation: its copies are numbered, so that each finds its own
     * counterpart. Those that stay behind are numbered by themselves.
     */
    public static function numberCopies(Database $database): void
    {
        $database->execute(<<<'SQL'
            CREATE TEMP TABLE copies AS
                SELECT message_id, ROW_NUMBER() OVER (PARTITION BY m.conversation_id, m.identity, m.fate IN ('left_out',
                    'spread') ORDER BY place) AS n
                FROM (SELECT identity, conversation_id FROM message GROUP BY identity, conversation_id
                    HAVING COUNT(*) > 1) AS twice
                CROSS JOIN message m ON m.identity = twice.identity AND m.conversation_id = twice.conversation_id;
            UPDATE message SET occurrence = copies.n FROM copies WHERE copies.message_id = message.message_id
                AND copies.n > 1;
            DROP TABLE copies;
            SQL);
    }

    /** Lists something in a finished store that only whoever had it made knows. */
    public static function addFinding(
        string $path,
        string $code,
        string $subject,
        ?string $example,
        int $count = 1,
    ): void {
        $database = new Database(new \SQLite3($path));
        $database->run(
            'INSERT OR REPLACE INTO finding (code, subject, count, example) VALUES (?, ?, ?, ?)',
            [$code, mb_scrub($subject), $count, $example],
        );
        $database->close();
    }

    /** The words of an answered message are kept with the answer only where that message is not among the chats. */
    public static function dropQuotesOfWhatIsHere(Database $database): void
    {
        $database->execute(<<<'SQL'
            UPDATE message SET details = NULLIF(json_remove(details, '$.quote'), '{}')
            WHERE reply_to IS NOT NULL AND details LIKE '%"quote":%' AND EXISTS (SELECT 1 FROM message a
                WHERE a.identity = message.reply_to)
            SQL);
    }
}
