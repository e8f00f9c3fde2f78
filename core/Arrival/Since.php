<?php

declare(strict_types=1);

namespace Geschenk\Core\Arrival;

use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Row;

/**
 * One check held against an earlier one: which differences are gone since, and which came up.
 *
 * Conversations are the same by their key. A difference is the same by what it says of its message, and as often as it
 * is said; not by its place, which another rehearsal may count otherwise.
 *
 * @phpstan-type SinceRow array{
 *     title: string|null, verdict_then: string|null, verdict_now: string|null, missing_then: int, missing_now: int,
 *     extra_then: int, extra_now: int, gone: int, came_up: int,
 * }
 */
final readonly class Since
{
    private const DIFFERENCES = 'c.key, f.account, f.reason, f.kind, f.sent_at, f.sender_key, f.from_owner, f.aspects';
    private const SIDE = 'conversation_id, key, title, verdict, missing, extra, settings';

    public function __construct(private Result $earlier, private Result $later)
    {
    }

    /**
     * A row for each conversation that is not as it was: what got worse first.
     *
     * @return list<SinceRow>
     */
    public function conversations(int $limit = 500): array
    {
        $database = Database::openReadOnly($this->later->path);
        $database->attachReadOnly($this->earlier->path, 'earlier');
        $differences = self::DIFFERENCES;
        $side = self::SIDE;
        $sql = <<<SQL
            WITH difference AS (
                SELECT $differences, 1 AS n
                    FROM main.finding f JOIN main.conversation c ON c.conversation_id = f.conversation_id
                UNION ALL
                SELECT $differences, -1
                    FROM earlier.finding f JOIN earlier.conversation c ON c.conversation_id = f.conversation_id
            ), turned AS (
                SELECT key, SUM(n) AS n FROM difference
                    GROUP BY key, account, reason, kind, sent_at, sender_key, from_owner, aspects HAVING SUM(n) <> 0
            ), turn AS (
                SELECT key, SUM(MAX(n, 0)) AS came_up, SUM(MAX(-n, 0)) AS gone FROM turned GROUP BY key
            ), one AS (
                SELECT key FROM main.conversation UNION SELECT key FROM earlier.conversation
            ), now AS (SELECT $side FROM main.conversation), past AS (SELECT $side FROM earlier.conversation)
            SELECT COALESCE(now.title, past.title) AS title, past.verdict AS verdict_then, now.verdict AS verdict_now,
                COALESCE(past.missing, 0) AS missing_then, COALESCE(now.missing, 0) AS missing_now,
                COALESCE(past.extra, 0) AS extra_then, COALESCE(now.extra, 0) AS extra_now,
                COALESCE(turn.gone, 0) AS gone, COALESCE(turn.came_up, 0) AS came_up
            FROM one
                LEFT JOIN now ON now.key = one.key
                LEFT JOIN past ON past.key = one.key
                LEFT JOIN turn ON turn.key = one.key
            WHERE turn.key IS NOT NULL OR now.verdict IS NOT past.verdict OR now.settings IS NOT past.settings
            ORDER BY came_up DESC, gone DESC, now.conversation_id LIMIT $limit
            SQL;

        return array_map(static fn (Row $row): array => [
            'title' => $row->nullableText('title'), 'verdict_then' => $row->nullableText('verdict_then'),
            'verdict_now' => $row->nullableText('verdict_now'), 'missing_then' => $row->int('missing_then'),
            'missing_now' => $row->int('missing_now'), 'extra_then' => $row->int('extra_then'),
            'extra_now' => $row->int('extra_now'), 'gone' => $row->int('gone'), 'came_up' => $row->int('came_up'),
        ], $database->few($sql));
    }
}
