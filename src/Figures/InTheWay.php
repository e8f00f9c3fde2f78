<?php

declare(strict_types=1);

namespace Geschenk\App\Figures;

use Doctrine\DBAL\Connection;

/** What stood in the way of runs within a span, and how often. */
final readonly class InTheWay
{
    public function __construct(private Connection $connection)
    {
    }

    /**
     * @return list<array{
     *     kind: string, reason: string, count: int, ended: int, last_at: \DateTimeImmutable,
     *     params: array<string, string|int>,
     * }> most often first; ended: how many of them ended the run; params: what the last one's sentence needs
     */
    public function between(\DateTimeImmutable $from, \DateTimeImmutable $until): array
    {
        $utc = new \DateTimeZone('UTC');
        $sums = <<<'SQL'
            SELECT s.kind, s.reason, s.count, s.ended, last.at, last.params
            FROM (
                SELECT kind, reason, COUNT(*) AS count, SUM(is_end) AS ended, MAX(id) AS last_id
                FROM setback
                WHERE at >= :from AND at < :until
                GROUP BY kind, reason
            ) s
            JOIN setback last ON last.id = s.last_id
            ORDER BY s.count DESC, s.kind, s.reason
            SQL;
        $rows = [];
        /** @var array{kind: string, reason: string, count: int, ended: int, at: string, params: string} $row */
        foreach ($this->connection->iterateAssociative($sums, [
            'from' => $from->setTimezone($utc)->format('Y-m-d H:i:s'),
            'until' => $until->setTimezone($utc)->format('Y-m-d H:i:s'),
        ]) as $row) {
            /** @var array<string, string|int> $params written by Setback alone */
            $params = (array) json_decode($row['params'], true, 4);
            $rows[] = [
                'kind' => $row['kind'], 'reason' => $row['reason'], 'count' => (int) $row['count'],
                'ended' => (int) $row['ended'], 'last_at' => new \DateTimeImmutable($row['at'], $utc),
                'params' => $params,
            ];
        }

        return $rows;
    }
}
