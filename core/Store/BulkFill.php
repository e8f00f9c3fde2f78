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
    private Insert $marks;

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
                .'CREATE TEMP TABLE attachments_of (message_id INTEGER PRIMARY KEY, mark TEXT NOT NULL)',
        );
        $this->marks = new Insert(
            $this->database, 'temp.attachments_of', ['message_id' => \SQLITE3_INTEGER, 'mark' => \SQLITE3_TEXT],
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

    /**
     * @param string                                  $unusual     SELECT of all that `$make` wants, the message's id
     * first, FROM `temp.ordering o` and what it is joined with
     * @param callable(list<mixed>): Message          $make        throws what broken rows make objects throw
     * @param callable(list<mixed>, \Throwable): void $broken
     * @param string                                  $attachments what `$attachment` wants of a row called c, FROM
     * `temp.ordering o` and what it is joined with, WHERE all those rows of a message are plain
     * @param callable(list<mixed>, int): Attachment  $attachment  gets the row and its place among the message's
     * attachments
     */
    public function fill(
        int $conversation,
        int $first,
        int $messages,
        PlainRows $plain,
        string $unusual,
        callable $make,
        callable $broken,
        string $attachments,
        callable $attachment,
        Progress $progress,
    ): void {
        for ($from = $first; $from < $first + $messages; $from += self::CHUNK) {
            $to = min($from + self::CHUNK, $first + $messages);
            $range = sprintf('o.message_id >= %d AND o.message_id < %d', $from, $to);
            $moved = 0;
            if ($this->inBulk) {
                // The attachments first, so that the messages go in once, with their mark.
                $mark = $this->attachments(
                    "SELECT o.message_id, $attachments AND $range ORDER BY o.message_id, c.rowid", $attachment,
                )
                    ? '(SELECT a.mark FROM temp.attachments_of a WHERE a.message_id = o.message_id)'
                    : 'NULL';
                // Not kept for another time: no two ranges are the same.
                $this->database->execute('INSERT INTO message (message_id, conversation_id, place, identity, wire_id, '
                    .'sender_key, from_owner, kind, body, sent_at, received_at, state, marks, reply_to, reactions, '
                    .'receipts, details, attachments) '
                    .sprintf(
                        'SELECT o.message_id, %d, o.message_id - %d, ', $conversation, $first - 1,
                    )."{$plain->columns}, $mark FROM temp.ordering o {$plain->joins} WHERE {$plain->where} AND $range");
                $moved = $this->database->changes();
            }
            $left = $unusual
                .' LEFT JOIN main.message there ON there.message_id = o.message_id WHERE there.message_id IS NULL AND '
                    .$range.' ORDER BY o.message_id';
            foreach ($moved === $to - $from ? [] : $this->database->lists($left) as $values) {
                /** @var array{0: int} $values */
                try {
                    $message = $make($values);
                    $this->store->put(
                        $values[0], $conversation, $values[0] - $first + 1, $message,
                        areAttached: $this->inBulk && [] !== $message->attachments && $this->areAttached($values[0]),
                    );
                } catch (\TypeError|\ValueError|\UnexpectedValueException $error) {
                    $broken($values, $error);
                    $this->store->leaveGap($conversation);
                }
            }
            $progress->advance($to - $from);
        }
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
        unset($this->marks);
        $this->database->execute('DROP TABLE temp.ordering; DROP TABLE temp.attachments_of; COMMIT');
        $this->database->detach('source');
        $this->database->execute('BEGIN');
    }

    /**
     * Moves attachments and keeps their mark for the messages.
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
            $this->marks->row([$message, MessageRow::attachments($list)]);
        }
    }
}
