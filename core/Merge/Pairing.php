<?php

declare(strict_types=1);

namespace Geschenk\Core\Merge;

use Geschenk\Core\Sqlite\Database;

/**
 * Finds which messages of two phones are one: the identity tells, with moment, sender and kind, which no edit changes;
 * a deletion changes the kind alone. docs/formats/merging.md says the same in words.
 *
 * The two stores are attached as b (what is brought) and t (what is there).
 */
final class Pairing
{
    public const WRITTEN = "fate NOT IN ('left_out', 'spread')";
    private const SAME_KIND = "(x.kind = y.kind OR 'deleted' IN (x.kind, y.kind) OR 'unknown' IN (x.kind, y.kind))";
    /** Somebody who changed their number is the same person. */
    private const SAME_SENDER = <<<'SQL'
        (x.sender_key IS y.sender_key
            OR EXISTS (SELECT 1 FROM t.person p WHERE p.key = y.sender_key AND p.former_key = x.sender_key)
            OR EXISTS (SELECT 1 FROM b.person p WHERE p.key = x.sender_key AND p.former_key = y.sender_key))
        SQL;
    private const SAME = 'x.sent_at = y.sent_at AND x.from_owner = y.from_owner AND '
        .self::SAME_KIND.' AND '.self::SAME_SENDER;
    private const CHANGED_SINCE = "(x.kind = 'deleted') <> (y.kind = 'deleted') OR json_extract(x.details, "
        ."'$.edited_at') IS NOT json_extract(y.details, '$.edited_at')";
    /** What identities without a wire id begin with, as a range that an index finds. */
    private const NAMELESS = "identity >= 'c:' AND identity < 'c;'";

    /** Messages without an id that may be one, and stand there twice. */
    private int $twice = 0;
    /** Whether either side has messages without an id. */
    private ?bool $hasNameless = null;

    public function __construct(private readonly Database $database)
    {
        // A pair is one message. An anchor also names what is left behind of the backup: it tells what stood where.
        $database->execute(<<<'SQL'
            CREATE TEMP TABLE pair (there_id INTEGER PRIMARY KEY, brought_id INTEGER NOT NULL UNIQUE);
            CREATE TEMP TABLE anchor (brought_id INTEGER PRIMARY KEY, there_id INTEGER NOT NULL UNIQUE);
            SQL);
    }

    /** A conversation that only one of them has. */
    public function nothing(): void
    {
        $this->database->execute('DELETE FROM temp.anchor');
    }

    /**
     * @param string $inBrought that x is in the conversation
     * @param string $inThere   that y is
     */
    public function pair(int $conversation, string $inBrought, string $inThere): void
    {
        $this->database->execute('INSERT INTO temp.pair '.$this->match($conversation, $inThere, self::WRITTEN));
        $this->twins($inBrought, $inThere);
        $this->hasNameless ??= $this->hasNameless();
        if ($this->hasNameless) {
            $this->changedSince($inBrought, $inThere);
        }
        $this->database->execute(<<<SQL
            DELETE FROM temp.anchor;
            INSERT INTO temp.anchor
                SELECT p.brought_id, p.there_id FROM temp.pair p JOIN t.message y ON y.message_id = p.there_id
                WHERE $inThere;
            INSERT OR IGNORE INTO temp.anchor (there_id, brought_id)
                {$this->match($conversation, $inThere, "fate = 'left_out'")};
            SQL);
    }

    public function done(): void
    {
        $this->database->execute('DROP TABLE temp.pair; DROP TABLE temp.anchor');
    }

    /** How many messages without an id stand there twice, for nothing tells whether they are one. */
    public function twice(): int
    {
        return $this->twice;
    }

    /** One on each side: the identity tells, with what no edit and no deletion changes. */
    private function match(int $conversation, string $inThere, string $fate): string
    {
        [$written, $same] = [self::WRITTEN, self::SAME];

        return <<<SQL
            SELECT y.message_id, x.message_id
            FROM t.message y JOIN b.message x ON x.identity = y.identity AND x.conversation_id = $conversation
                AND x.occurrence = y.occurrence
            WHERE $inThere AND x.$fate AND y.$written AND $same
            SQL;
    }

    private function twins(string $inBrought, string $inThere): void
    {
        $twice = $this->database->one(<<<SQL
            SELECT EXISTS (SELECT 1 FROM t.message y WHERE $inThere AND y.occurrence > 1)
                OR EXISTS (SELECT 1 FROM b.message x WHERE $inBrought AND x.occurrence > 1) AS here
            SQL);
        if (true !== $twice?->bool('here')) {
            return;
        }
        $this->database->execute(<<<SQL
            CREATE TEMP TABLE twice AS
                SELECT y.identity FROM t.message y WHERE $inThere AND y.occurrence > 1
                UNION SELECT x.identity FROM b.message x WHERE $inBrought AND x.occurrence > 1;
            DELETE FROM temp.pair WHERE there_id IN (SELECT y.message_id FROM t.message y
                WHERE $inThere AND y.identity IN (SELECT identity FROM temp.twice));
            SQL);
        // Several with one identity: first those that say the same, as often as both have it, then those of which one
        // was edited or deleted since.
        $this->pairTwins($inBrought, $inThere, 'kind, body', '1');
        $this->pairTwins($inBrought, $inThere, 'kind', self::CHANGED_SINCE);
        $this->pairTwins($inBrought, $inThere, 'from_owner', '('.self::CHANGED_SINCE.') AND '.self::SAME_KIND);
        $this->database->execute('DROP TABLE temp.twice');
    }

    /**
     * @param string $columns what has to be the same beside identity, time and sender
     * @param string $where   what has to be true of the two
     */
    private function pairTwins(string $inBrought, string $inThere, string $columns, string $where): void
    {
        $by = "identity, sent_at, sender_key, from_owner, $columns";
        $equal = implode(' AND ', array_map(
            static fn (string $c): string => "x.$c IS y.$c", explode(', ', $by),
        ));
        $this->database->execute(<<<SQL
            INSERT INTO temp.pair
            WITH saying AS (
                    SELECT x.*, ROW_NUMBER() OVER (PARTITION BY $by ORDER BY message_id) AS nth
                    FROM b.message x WHERE $inBrought AND x.identity IN (SELECT identity FROM temp.twice)
                        AND x.fate NOT IN ('left_out', 'spread')
                        AND NOT EXISTS (SELECT 1 FROM temp.pair p WHERE p.brought_id = x.message_id)
                ), said AS (
                    SELECT y.*, ROW_NUMBER() OVER (PARTITION BY $by ORDER BY message_id) AS nth
                    FROM t.message y WHERE $inThere AND y.identity IN (SELECT identity FROM temp.twice)
                        AND y.fate NOT IN ('left_out', 'spread')
                        AND NOT EXISTS (SELECT 1 FROM temp.pair p WHERE p.there_id = y.message_id)
                )
            SELECT y.message_id, x.message_id FROM said y JOIN saying x ON x.nth = y.nth AND $equal
            WHERE $where
            SQL);
    }

    private function hasNameless(): bool
    {
        foreach (['b', 't'] as $schema) {
            $one = "SELECT 1 AS here FROM $schema.message WHERE ".self::NAMELESS.' LIMIT 1';
            if (null !== $this->database->one($one)) {
                return true;
            }
        }

        return false;
    }

    /**
     * What has no id and was edited or deleted on one phone has another identity there. It is the same where each side
     * has just one of that moment by that sender; what can't be told is counted.
     */
    private function changedSince(string $inBrought, string $inThere): void
    {
        [$written, $changed, $nameless] = [self::WRITTEN, self::CHANGED_SINCE, self::NAMELESS];
        $of = static fn (string $alias, string $in, string $id): string => <<<SQL
            SELECT MIN($alias.message_id) AS message_id, sent_at, sender_key, from_owner, COUNT(*) AS n
            FROM %s.message $alias
            WHERE $in AND $alias.$written AND $nameless
                AND NOT EXISTS (SELECT 1 FROM temp.pair p WHERE p.$id = $alias.message_id)
            GROUP BY sent_at, sender_key, from_owner
            SQL;
        $both = sprintf($of('x', $inBrought, 'brought_id'), 'b');
        $there = sprintf($of('y', $inThere, 'there_id'), 't');
        $this->database->execute(<<<SQL
            CREATE TEMP TABLE nameless AS
                SELECT v.message_id AS there_id, u.message_id AS brought_id, u.n = 1 AND v.n = 1 AS is_one, v.n
                FROM ($both) u JOIN ($there) v ON u.sent_at = v.sent_at AND u.sender_key IS v.sender_key
                    AND u.from_owner = v.from_owner;
            INSERT INTO temp.pair
                SELECT n.there_id, n.brought_id
                FROM temp.nameless n JOIN b.message x ON x.message_id = n.brought_id
                    JOIN t.message y ON y.message_id = n.there_id
                WHERE n.is_one AND ($changed);
            SQL);
        $this->twice += $this->database->one(<<<'SQL'
            SELECT SUM(n.n) AS twice FROM temp.nameless n
            WHERE NOT EXISTS (SELECT 1 FROM temp.pair p WHERE p.there_id = n.there_id)
            SQL)?->nullableInt('twice') ?? 0;
        $this->database->execute('DROP TABLE temp.nameless');
    }
}
