<?php

declare(strict_types=1);

namespace Geschenk\App\Figures;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Geschenk\App\Entity\Aim;
use Geschenk\App\Entity\Errand;
use Geschenk\App\Runs\KindOfMove;
use Geschenk\App\Runs\Kinds;
use Geschenk\App\Shop;
use Geschenk\Core\Phone\Role;

/**
 * Reads the trays that were ended within a span, a few hundred at a time: however many there are, it takes the same
 * memory.
 *
 * @phpstan-type Row array<string, string|int|float|null>
 */
final readonly class Jobs
{
    private const AT_ONCE = 300;

    public function __construct(private Connection $connection, private Kinds $kinds)
    {
    }

    /** @return iterable<Job> the first ended first */
    public function between(\DateTimeImmutable $from, \DateTimeImmutable $until): iterable
    {
        $after = ['at' => self::utc($from), 'id' => 0];
        $trays = <<<'SQL'
            SELECT id, errand, withdrawn, opened_at, closed_at
            FROM tray
            -- Nobody stood at a bench for what was imported.
            WHERE (closed_at, id) > (:at, :id) AND closed_at < :until AND errand <> :import
            ORDER BY closed_at, id
            LIMIT :most
            SQL;
        do {
            $rows = $this->connection->fetchAllAssociative($trays, [
                ...$after, 'until' => self::utc($until), 'most' => self::AT_ONCE,
                'import' => Errand::Import->value,
            ]);
            yield from $this->jobs($rows);
            $last = end($rows);
            if (false !== $last) {
                $after = ['at' => self::text($last['closed_at']), 'id' => self::number($last['id'])];
            }
        } while (self::AT_ONCE === count($rows));
    }

    /** Since when runs are measured and setbacks kept; null where no tray was ended before. */
    public function measuredSince(): ?\DateTimeImmutable
    {
        $since = $this->connection->fetchOne(<<<'SQL'
            SELECT MIN(asked_at) AS since
            FROM run
            WHERE worked_ms > 0
            HAVING EXISTS (SELECT 1 FROM tray WHERE closed_at < since)
            SQL);

        return is_string($since) ? new \DateTimeImmutable($since, new \DateTimeZone('UTC')) : null;
    }

    /**
     * @param list<array<string, mixed>> $trays
     *
     * @return iterable<Job>
     */
    private function jobs(array $trays): iterable
    {
        $ids = array_column($trays, 'id');
        $steps = $this->of($ids, 'SELECT tray_id, stage, at FROM step WHERE tray_id IN (:ids) ORDER BY at, id');
        $runs = $this->of($ids, <<<'SQL'
            SELECT m.tray_id, r.kind, r.worked_ms
            FROM run r JOIN move m ON m.id = r.move_id
            WHERE m.tray_id IN (:ids)
            SQL);
        $phones = $this->of($ids, 'SELECT tray_id, role, model FROM tray_phone WHERE tray_id IN (:ids) ORDER BY id');
        $moves = $this->of($ids, <<<'SQL'
            SELECT m.tray_id, m.edition, b.way_in
            FROM move m
            LEFT JOIN bringing g ON g.id = (SELECT MAX(n.id) FROM bringing n WHERE n.move_id = m.id)
            LEFT JOIN backup b ON b.id = g.backup_id
            WHERE m.tray_id IN (:ids) AND m.left_out_at IS NULL
            ORDER BY m.place
            SQL);
        $setbacks = $this->of($ids, <<<'SQL'
            SELECT m.tray_id, s.kind, s.reason, s.is_end
            FROM setback s JOIN move m ON m.id = s.move_id
            WHERE m.tray_id IN (:ids)
            ORDER BY s.id
            SQL);
        $amiss = $this->of($ids, <<<'SQL'
            SELECT DISTINCT m.tray_id
            FROM move m
            JOIN bringing g ON g.move_id = m.id
            LEFT JOIN arrival_check c ON c.bringing_id = g.id
            WHERE m.tray_id IN (:ids)
                AND (g.put_back_at IS NOT NULL OR g.aim IN (:again) OR c.totals ->> '$.complete' = 0)
            SQL, ['again' => [Aim::Missing->value, Aim::OnceMore->value]]);
        foreach ($trays as $tray) {
            $id = self::number($tray['id']);
            $ends = array_filter($setbacks[$id] ?? [], static fn (array $row): bool => 0 !== (int) $row['is_end']);
            $isWithdrawn = 0 !== self::number($tray['withdrawn']);
            $machine = $this->machine($runs[$id] ?? []);
            // Of work that nobody measured nothing is said, not even that it took no time.
            $isMeasured = !isset($runs[$id]) || 0 < array_sum(array_column($runs[$id], 'worked_ms'));
            yield new Job(
                self::month(self::text($tray['closed_at'])), Errand::from(self::text($tray['errand'])), $isWithdrawn,
                self::models($phones[$id] ?? [], Role::Gives), self::models($phones[$id] ?? [], Role::Receives),
                self::each($moves[$id] ?? [], 'edition'), self::each($moves[$id] ?? [], 'way_in'),
                $isMeasured ? $machine : [],
                $isMeasured ? self::people($tray, $steps[$id] ?? [], $machine) : [], array_map(
                    static fn (array $row): string => $row['kind'].' '.$row['reason'], $setbacks[$id] ?? [],
                ), !$isWithdrawn && [] === $ends && !isset($amiss[$id]),
            );
        }
    }

    /**
     * @param list<mixed>                       $ids
     * @param array<string, list<string>|string> $params
     *
     * @return array<int, list<Row>> rows by their tray
     */
    private function of(array $ids, string $sql, array $params = []): array
    {
        $found = [];
        /** @var Row $row */
        foreach ($this->connection->iterateAssociative(
            $sql, ['ids' => $ids] + $params,
            ['ids' => ArrayParameterType::INTEGER, 'again' => ArrayParameterType::STRING],
        ) as $row) {
            $found[(int) $row['tray_id']][] = $row;
        }

        return $found;
    }

    /**
     * @param list<Row> $runs
     *
     * @return array<string, int> seconds by stage
     */
    private function machine(array $runs): array
    {
        $ms = [];
        foreach ($runs as $run) {
            $kind = $this->kinds->find((string) $run['kind']);
            if ($kind instanceof KindOfMove) {
                $stage = $kind->stage()->value;
                $ms[$stage] = ($ms[$stage] ?? 0) + (int) $run['worked_ms'];
            }
        }

        return array_map(static fn (int $sum): int => intdiv($sum + 500, 1000), $ms);
    }

    /**
     * What lies between two entries of the run sheet belongs to the stage of the later one; what a worker was at of it
     * is not people's.
     *
     * @param array<string, mixed> $tray
     * @param list<Row>            $steps
     * @param array<string, int>   $machine
     *
     * @return array<string, int> seconds by stage
     */
    private static function people(array $tray, array $steps, array $machine): array
    {
        $last = self::seconds(self::text($tray['opened_at']));
        $end = self::seconds(self::text($tray['closed_at']));
        $spent = [];
        foreach ($steps as $step) {
            $at = min($end, self::seconds((string) $step['at']));
            $spent[(string) $step['stage']] = ($spent[(string) $step['stage']] ?? 0) + max(0, $at - $last);
            $last = max($last, $at);
        }
        foreach ($machine as $stage => $seconds) {
            $spent[$stage] = max(0, ($spent[$stage] ?? 0) - $seconds);
        }

        return $spent;
    }

    /**
     * @param list<Row> $phones
     *
     * @return list<string>
     */
    private static function models(array $phones, Role $role): array
    {
        $of = array_filter($phones, static fn (array $row): bool => $row['role'] === $role->value);

        return self::each(array_values($of), 'model');
    }

    /**
     * @param list<Row> $rows
     *
     * @return list<string> each once
     */
    private static function each(array $rows, string $column): array
    {
        return array_values(array_unique(array_filter(
            array_map(strval(...), array_column($rows, $column)), static fn (string $value): bool => '' !== $value,
        )));
    }

    private static function month(string $at): string
    {
        return (new \DateTimeImmutable($at, new \DateTimeZone('UTC')))->setTimezone(new \DateTimeZone(Shop::ZONE))
            ->format('Y-m');
    }

    private static function seconds(string $at): int
    {
        return (int) strtotime($at.' UTC');
    }

    private static function utc(\DateTimeImmutable $at): string
    {
        return $at->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d H:i:s');
    }

    private static function text(mixed $value): string
    {
        return is_scalar($value) ? (string) $value : '';
    }

    private static function number(mixed $value): int
    {
        return is_numeric($value) ? (int) $value : 0;
    }
}
