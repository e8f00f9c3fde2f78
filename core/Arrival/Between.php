<?php

declare(strict_types=1);

namespace Geschenk\Core\Arrival;

use Geschenk\Core\Sqlite\Database;

/**
 * What became of an account's chats between two backups of it, read from the outcome of their comparison: the earlier
 * one as what was expected, the later one as what was found. Of each message it is one of four: the same in both,
 * changed, gone since, or come since.
 *
 * @phpstan-type Fates array{same: int, changed: int, went: int, came: int}
 * @phpstan-type BetweenMonth array{month: string, same: int, changed: int, went: int, came: int}
 * @phpstan-type BetweenRow array{
 *     title: string|null, kind: string, same: int, changed: int, went: int, came: int, months: list<BetweenMonth>,
 *     aspects: array<string, int>, settings: list<string>,
 * }
 */
final readonly class Between
{
    private const NONE = ['same' => 0, 'changed' => 0, 'went' => 0, 'came' => 0];
    /** What of the two a finding of the comparison is. */
    private const FATE = "CASE WHEN account = 'extra' THEN 'came' WHEN found_id IS NULL THEN 'went' ELSE 'changed' END";

    private Database $database;

    /** @param string $path of the outcome */
    public function __construct(string $path)
    {
        $this->database = Database::openReadOnly($path);
    }

    /** @return Fates of all messages of both */
    public function totals(): array
    {
        $totals = self::NONE;
        foreach ($this->conversations() as $row) {
            foreach (array_keys($totals) as $fate) {
                $totals[$fate] += $row[$fate];
            }
        }

        return $totals;
    }

    /** @return list<BetweenRow> what went first, then what changed and what came; those of which nothing did last */
    public function conversations(): array
    {
        $months = $this->months();
        $aspects = $this->aspects();
        $rows = [];
        $sql = 'SELECT conversation_id, title, kind, settings FROM conversation ORDER BY conversation_id';
        foreach ($this->database->few($sql) as $row) {
            $id = $row->int('conversation_id');
            $sums = self::NONE;
            foreach ($months[$id] ?? [] as $month) {
                foreach (array_keys($sums) as $fate) {
                    $sums[$fate] += $month[$fate];
                }
            }
            $settings = $row->text('settings');
            $rows[] = [
                'title' => $row->nullableText('title'), 'kind' => $row->text('kind'), ...$sums,
                'months' => $months[$id] ?? [], 'aspects' => $aspects[$id] ?? [],
                'settings' => '' === $settings ? [] : explode(',', $settings),
            ];
        }
        usort($rows, static fn (array $a, array $b): int => self::weight($b) <=> self::weight($a));

        return $rows;
    }

    /**
     * @param BetweenRow $row
     *
     * @return list<int>
     */
    private static function weight(array $row): array
    {
        return [$row['went'], $row['changed'], $row['came'], count($row['settings']), $row['same']];
    }

    /** @return array<int, list<BetweenMonth>> by conversation, in the order of time */
    private function months(): array
    {
        $fate = self::FATE;
        $far = Comparison::FAR_OFF_MS;
        $sql = <<<SQL
            SELECT conversation_id, month, fate, SUM(n) AS n FROM (
                SELECT conversation_id, month, 'same' AS fate, there AS n FROM month
                UNION ALL
                SELECT conversation_id, CASE WHEN sent_at < 0 THEN '0000-00' WHEN sent_at >= $far THEN '9999-99'
                        ELSE strftime('%Y-%m', sent_at / 1000, 'unixepoch') END, $fate, 1
                    FROM finding
            ) GROUP BY conversation_id, month, fate ORDER BY conversation_id, month
            SQL;
        $months = [];
        foreach ($this->database->rows($sql) as $row) {
            [$id, $month] = [$row->int('conversation_id'), $row->text('month')];
            $months[$id][$month] ??= ['month' => $month] + self::NONE;
            $fate = $row->text('fate');
            if (isset(self::NONE[$fate])) {
                $months[$id][$month][$fate] += $row->int('n');
            }
        }

        return array_map(array_values(...), $months);
    }

    /** @return array<int, array<string, int>> how often what of a message changed, by conversation */
    private function aspects(): array
    {
        $sql = "SELECT conversation_id, aspects, COUNT(*) AS n FROM finding WHERE aspects <> '' GROUP BY 1, 2";
        $aspects = [];
        foreach ($this->database->few($sql) as $row) {
            foreach (explode(',', $row->text('aspects')) as $aspect) {
                $id = $row->int('conversation_id');
                $aspects[$id][$aspect] = ($aspects[$id][$aspect] ?? 0) + $row->int('n');
            }
        }
        array_walk($aspects, static function (array &$one): void {
            arsort($one);
        });

        return $aspects;
    }
}
