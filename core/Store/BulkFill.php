<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Progress;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Insert;

/**
 * Moves messages from a foreign database into a chat store mostly by SQL. Plain messages, nearly all of them, go over
 * in statements of many thousands; what is unusual in any way is made an object and put in its place one by one. Both
 * ways give the same columns for the same message, which a test holds them to.
 */
final class BulkFill
{
    private const CHUNK = 20_000;

    public readonly Database $database;
    private Insert $lists;
    /** Id of the message that is being made. */
    private int $making = 0;
    /** @var array<string, RowsInStep> by table */
    private array $beside = [];

    /**
     * @param string $path   of the foreign database; it is known as `source` from now on
     * @param string $order  SELECT of a message's id, in the order of the chats: conversation after conversation
     * @param string $counts SELECT of a conversation's id and how many messages it has, in the same order
     * @param bool   $inBulk false sends every message the unusual way
     */
    public function __construct(
        private readonly StoreWriter $store,
        string $path,
        string $order,
        private readonly string $counts,
        private readonly bool $inBulk,
    ) {
        $this->database = $store->bulk();
        $this->database->execute('COMMIT');
        $this->database->attachReadOnly($path, 'source');
        $this->database->execute(
            'BEGIN; CREATE TEMP TABLE ordering (message_id INTEGER PRIMARY KEY, source_id INTEGER); '
                .'CREATE TEMP TABLE attachments_of (message_id INTEGER PRIMARY KEY, list TEXT NOT NULL); '
                .'CREATE TEMP TABLE unusual (message_id INTEGER PRIMARY KEY, source_id INTEGER)',
        );
        $this->lists = new Insert(
            $this->database, 'temp.attachments_of', ['message_id' => \SQLITE3_INTEGER, 'list' => \SQLITE3_TEXT],
        );
        $this->database->execute('INSERT INTO temp.ordering (source_id) '.$order);
    }

    /**
     * Where the messages of each conversation will be.
     *
     * @return \Generator<int, array{room: mixed, first: int, messages: int}> in the order of the chats
     */
    public function rooms(): \Generator
    {
        $first = 1;
        foreach ($this->database->lists($this->counts) as [$room, $messages]) {
            $messages = is_int($messages) ? $messages : 0;
            yield ['room' => $room, 'first' => $first, 'messages' => $messages];
            $first += $messages;
        }
    }

    public function fill(
        RoomRange $of,
        PlainRows $plain,
        UnusualRows $unusual,
        AttachedRows $attached,
        Progress $progress,
    ): void {
        [$conversation, $first] = [$of->conversation, $of->first];
        for ($from = $first; $from < $first + $of->messages; $from += self::CHUNK) {
            $to = min($from + self::CHUNK, $first + $of->messages);
            $range = sprintf('o.message_id >= %d AND o.message_id < %d', $from, $to);
            $moved = 0;
            if ($this->inBulk) {
                // The attachments first, so that the messages go in once, with the list of them.
                $list = $this->attachments(
                    "SELECT o.message_id, {$attached->select} AND $range ORDER BY o.message_id, c.rowid",
                    $attached->make,
                )
                    ? '(SELECT a.list FROM temp.attachments_of a WHERE a.message_id = o.message_id)'
                    : 'NULL';
                // Not kept for another time: no two ranges are the same.
                $this->database->execute('INSERT INTO message (message_id, conversation_id, place, identity, wire_id, '
                    .'sender_key, from_owner, kind, body, sent_at, received_at, state, marks, reply_to, reactions, '
                    .'receipts, details, attachments) '
                    .sprintf(
                        'SELECT o.message_id, %d, o.message_id - %d, ', $conversation, $first - 1,
                    )."{$plain->columns}, $list FROM temp.ordering o {$plain->joins} WHERE {$plain->where} AND $range");
                $moved = $this->database->changes();
            }
            if ($moved < $to - $from) {
                $this->makeOneByOne($of, $range, $unusual);
            }
            $progress->advance($to - $from);
        }
    }

    /**
     * Rows of another table that belong to the message that is being made. They are walked in step with the messages,
     * one statement for thousands of them: asking anew for each takes five times as long.
     *
     * @param string $columns of a row called c
     * @param string $table   in the foreign database
     * @param string $parent  its column with the id that a message has over there
     * @param string $order   of the rows of one message
     *
     * @return list<list<mixed>> nothing when it was asked for this message already
     */
    public function beside(string $columns, string $table, string $parent, string $order = 'c.rowid'): array
    {
        $this->beside[$table] ??= new RowsInStep($this->database->lists(
            "SELECT o.message_id, $columns FROM temp.unusual o
            CROSS JOIN source.$table c ON c.$parent = o.source_id ORDER BY o.message_id, $order",
        ));

        return $this->beside[$table]->of($this->making);
    }

    /**
     * Notes what belonged to a conversation's messages and was in a damaged part of the source.
     *
     * @param array<int|string, int> $lost how many rows were lost, by the message's id over there
     */
    public function partsLost(string $conversation, int $first, int $messages, array $lost): void
    {
        if ([] === $lost) {
            return;
        }
        if (null === $this->database->one("SELECT 1 AS here FROM temp.sqlite_schema WHERE name = 'lost_part'")) {
            $this->database->execute(
                'CREATE TEMP TABLE lost_part (source_id INTEGER PRIMARY KEY, parts INTEGER NOT NULL)',
            );
            foreach ($lost as $id => $parts) {
                $this->database->run('INSERT INTO temp.lost_part VALUES (?, ?)', [$id, $parts]);
            }
        }
        $parts = $this->database->one(
            'SELECT SUM(l.parts) AS n FROM temp.ordering o JOIN temp.lost_part l ON l.source_id = o.source_id '
                .'WHERE o.message_id >= ? AND o.message_id < ?',
            [$first, $first + $messages],
        )?->nullableInt('n') ?? 0;
        if ($parts > 0) {
            $this->store->finding('parts_lost', $conversation, null, $parts);
        }
    }

    public function finish(): void
    {
        unset($this->lists);
        $this->database->execute('DROP TABLE temp.ordering; DROP TABLE temp.attachments_of; '
                .'DROP TABLE temp.unusual; COMMIT');
        $this->database->detach('source');
        $this->database->execute('BEGIN');
    }

    /** The messages of a range that are not there yet. */
    private function makeOneByOne(RoomRange $of, string $range, UnusualRows $unusual): void
    {
        $this->database->execute('DELETE FROM temp.unusual; INSERT INTO temp.unusual '
            .'SELECT o.message_id, o.source_id FROM temp.ordering o '
            ."WHERE $range AND NOT EXISTS (SELECT 1 FROM main.message m WHERE m.message_id = o.message_id)");
        foreach ($this->database->lists("SELECT o.message_id, {$unusual->select} ORDER BY o.message_id") as $values) {
            $this->making = is_int($values[0]) ? $values[0] : 0;
            $values = array_slice($values, 1);
            try {
                $message = ($unusual->make)($values);
                $this->store->put($this->making, $of->conversation, $this->making - $of->first + 1, $message);
                if (!$this->inBulk || [] === $message->attachments || !$this->areAttached($this->making)) {
                    $this->store->attach($this->making, $message->attachments);
                }
            } catch (\TypeError|\ValueError|\UnexpectedValueException $error) {
                ($unusual->broken)($values, $error);
                $this->store->leaveGap($of->conversation);
            }
        }
        $this->beside = [];
    }

    /**
     * Moves attachments and keeps the list of them for the messages.
     *
     * @param callable(list<mixed>, int): Attachment $make
     *
     * @return bool whether there are any
     */
    private function attachments(string $select, callable $make): bool
    {
        $this->database->execute('DELETE FROM temp.attachments_of');
        $message = null;
        $list = [];
        foreach ($this->database->lists($select) as $values) {
            if ($message !== $values[0]) {
                $this->attach($message, $list);
                $list = [];
                $message = $values[0];
            }
            $list[] = $make($values, count($list));
        }
        $this->attach($message, $list);

        return null !== $message;
    }

    private function areAttached(int $message): bool
    {
        return null !== $this->database->one(
            'SELECT 1 AS here FROM temp.attachments_of WHERE message_id = ?', [$message],
        );
    }

    /** @param list<Attachment> $list */
    private function attach(mixed $message, array $list): void
    {
        if (is_int($message) && [] !== $list) {
            $this->store->attach($message, $list);
            $this->lists->row([$message, MessageRow::attachments($list)]);
        }
    }
}
