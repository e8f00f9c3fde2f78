<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

use Geschenk\Core\Sqlite\Blob;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Insert;

/**
 * Pieces of messages that are met in any order: an event table, a journal, shards. They lie in a temporary file, and
 * are handed out conversation by conversation and message by message, in the order of the chats. In memory are those of
 * one message. What a piece is only its reader knows.
 */
final class Gathering
{
    private readonly Database $database;
    private readonly Insert $pieces;
    private bool $isSorted = false;

    public function __construct()
    {
        // A database without a name is a temporary file of SQLite's own; it goes with the connection.
        $this->database = Database::create('');
        $this->database->execute(
            'CREATE TABLE piece (piece_id INTEGER PRIMARY KEY, conversation BLOB NOT NULL, message BLOB NOT NULL, '
                .'place INTEGER, step INTEGER NOT NULL, body BLOB NOT NULL); BEGIN',
        );
        $this->pieces = new Insert($this->database, 'piece', [
            'conversation' => \SQLITE3_BLOB, 'message' => \SQLITE3_BLOB, 'place' => \SQLITE3_INTEGER,
            'step' => \SQLITE3_INTEGER, 'body' => \SQLITE3_BLOB,
        ]);
    }

    /**
     * @param string   $message what tells it from the others of its conversation
     * @param int|null $place   orders the messages of a conversation, usually when it was sent; null for a piece that
     *                          does not say, and of several the least counts
     * @param int      $step    orders the pieces of a message; where it is the same they stay as they were met
     */
    public function add(string $conversation, string $message, ?int $place, int $step, string $piece): void
    {
        if ($this->isSorted) {
            throw new \LogicException('Pieces are added before any is handed out.');
        }
        $this->pieces->row([$conversation, $message, $place, $step, $piece]);
    }

    /** @return \Generator<int, string> in the order in which they were met first */
    public function conversations(): \Generator
    {
        $this->sort();
        $conversations = 'SELECT conversation FROM piece GROUP BY conversation ORDER BY MIN(piece_id)';
        foreach ($this->database->lists($conversations) as [$conversation]) {
            if (is_string($conversation)) {
                yield $conversation;
            }
        }
    }

    /** @return \Generator<int, non-empty-list<string>> the pieces of each message; those without a place come last */
    public function messages(string $conversation): \Generator
    {
        $this->sort();
        $sorted = <<<'SQL'
            SELECT m.met, p.body
            FROM (
                SELECT message, MIN(place) AS place, MIN(piece_id) AS met FROM piece WHERE conversation = ?
                GROUP BY message
            ) m
            CROSS JOIN piece p ON p.conversation = ? AND p.message = m.message
            ORDER BY m.place IS NULL, m.place, m.met, p.step, p.piece_id
            SQL;
        $pieces = [];
        $message = null;
        $twice = [new Blob($conversation), new Blob($conversation)];
        foreach ($this->database->lists($sorted, $twice) as [$met, $piece]) {
            if ($met !== $message && [] !== $pieces) {
                yield $pieces;
                $pieces = [];
            }
            $message = $met;
            $pieces[] = is_string($piece) ? $piece : '';
        }
        if ([] !== $pieces) {
            yield $pieces;
        }
    }

    private function sort(): void
    {
        if (!$this->isSorted) {
            $this->database->execute('COMMIT; CREATE INDEX piece_of_message ON piece (conversation, message)');
            $this->isSorted = true;
        }
    }
}
