<?php

declare(strict_types=1);

namespace Geschenk\Core\Merge;

use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Store\LongestOrder;

/**
 * Puts the messages of two phones in one order. What both have are the anchors: what only one has stays behind the
 * anchors that it stood behind on its own phone, and before those that it stood before, whatever the clocks say.
 * Between two anchors each side keeps its own order, and its moments tell how the two lie in each other; odd times move
 * nothing. Where the two orders of what both have contradict each other, that of the backup counts, and it is counted.
 */
final class Placing
{
    private int $next = 1;
    private int $contradictions = 0;

    /** @param int $horizon what was sent after it counts as odd, milliseconds since 1970 UTC */
    public function __construct(private readonly Database $database, private readonly int $horizon)
    {
        $database->execute(<<<'SQL'
            CREATE TEMP TABLE place (message_id INTEGER PRIMARY KEY, side INTEGER NOT NULL, id INTEGER NOT NULL,
                conversation_id INTEGER NOT NULL, place INTEGER NOT NULL)
            SQL);
    }

    /** Id of the first message of the next conversation. */
    public function next(): int
    {
        return $this->next;
    }

    /** How many messages that both have stand in another order on each. */
    public function contradictions(): int
    {
        return $this->contradictions;
    }

    public function done(): void
    {
        $this->database->execute('DROP TABLE temp.place');
    }

    public function place(Meeting $of): void
    {
        $this->next += $of->count + $of->onlyThere;
        $this->settleContradictions();
        match (true) {
            0 === $of->count + $of->onlyThere => null,
            0 === $of->onlyThere && !$of->isAllThere => $this->put(
                "SELECT 0, x.message_id, {$of->id}, ROW_NUMBER() OVER (ORDER BY x.message_id) FROM b.message x "
                    ."WHERE {$of->inBrought} ORDER BY x.message_id",
            ),
            $of->isAllThere => $this->asThere($of->id, $of->inBrought, $of->inThere),
            0 === $of->count => $this->put(sprintf(
                'SELECT 1, message_id, %d, ROW_NUMBER() OVER (ORDER BY message_id) FROM (%s) ORDER BY message_id',
                $of->id, self::onlyThere($of->inThere),
            )),
            default => $this->between($of->id, $of->inBrought, $of->inThere),
        };
    }

    private function put(string $rows): void
    {
        $this->database->execute('INSERT INTO temp.place (side, id, conversation_id, place) '.$rows);
    }

    private static function onlyThere(string $inThere): string
    {
        return "SELECT y.message_id FROM t.message y WHERE $inThere AND y.".Pairing::WRITTEN
            .' AND NOT EXISTS (SELECT 1 FROM temp.pair p WHERE p.there_id = y.message_id)';
    }

    private function asThere(int $id, string $inBrought, string $inThere): void
    {
        $written = Pairing::WRITTEN;
        $this->put(<<<SQL
            SELECT side, id, $id, ROW_NUMBER() OVER (ORDER BY stays, place)
            FROM (
                SELECT IIF(p.brought_id IS NULL, 1, 0) AS side, IFNULL(p.brought_id, y.message_id) AS id,
                    0 AS stays, y.message_id AS place
                FROM t.message y LEFT JOIN temp.pair p ON p.there_id = y.message_id
                WHERE $inThere AND y.$written
                UNION ALL
                SELECT 0, x.message_id, 1, x.message_id FROM b.message x
                WHERE $inBrought AND x.fate IN ('left_out', 'spread')
            )
            ORDER BY stays, place
            SQL);
    }

    private function between(int $id, string $inBrought, string $inThere): void
    {
        $sane = sprintf('CASE WHEN sent_at > 0 AND sent_at <= %d THEN sent_at END', $this->horizon);
        $written = Pairing::WRITTEN;
        // Gap n lies behind anchor n, which stands first in it. In a gap a side is as late as its latest so far.
        $this->put(<<<SQL
            WITH brought AS (
                    SELECT 0 AS side, x.message_id AS id, x.sent_at, a.brought_id IS NULL AS is_free,
                        COUNT(a.brought_id) OVER (ORDER BY x.message_id) AS gap
                    FROM b.message x LEFT JOIN temp.anchor a ON a.brought_id = x.message_id
                    WHERE $inBrought
                ), there AS (
                    SELECT 1 AS side, y.message_id AS id, y.sent_at, a.there_id IS NULL AS is_free,
                        COUNT(a.there_id) OVER (ORDER BY y.message_id) AS gap,
                        EXISTS (SELECT 1 FROM temp.pair p WHERE p.there_id = y.message_id) AS is_paired
                    FROM t.message y LEFT JOIN temp.anchor a ON a.there_id = y.message_id
                    WHERE $inThere AND y.$written
                ), standing AS (
                    SELECT side, id, sent_at, is_free, gap FROM brought
                    UNION ALL
                    SELECT side, id, sent_at, is_free, gap FROM there WHERE NOT is_paired
                ), weighed AS (
                    SELECT side, id, is_free, gap,
                        IFNULL(MAX($sane) OVER (PARTITION BY side, gap, is_free ORDER BY id), 0) AS weight
                    FROM standing
                )
            SELECT side, id, $id, ROW_NUMBER() OVER (ORDER BY gap, is_free, weight, side, id)
            FROM weighed
            ORDER BY gap, is_free, weight, side, id
            SQL);
    }

    /** Of the anchors only the longest stretch stays that follows each other on both sides. */
    private function settleContradictions(): void
    {
        $back = $this->database->one(<<<'SQL'
            SELECT 1 AS here
            FROM (SELECT there_id < LAG(there_id) OVER (ORDER BY brought_id) AS is_back FROM temp.anchor)
            WHERE is_back
            LIMIT 1
            SQL);
        if (null === $back) {
            return;
        }
        $order = new LongestOrder();
        $anchors = 'SELECT brought_id, there_id FROM temp.anchor ORDER BY brought_id';
        foreach ($this->database->lists($anchors) as [$brought, $there]) {
            /** @var int $brought */
            /** @var int $there */
            $order->add($brought, $there);
        }
        foreach ($order->outside() as $brought) {
            $this->database->run('DELETE FROM temp.anchor WHERE brought_id = ?', [$brought]);
            ++$this->contradictions;
        }
    }
}
