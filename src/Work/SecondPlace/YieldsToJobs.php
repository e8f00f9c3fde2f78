<?php

declare(strict_types=1);

namespace Geschenk\App\Work\SecondPlace;

use Doctrine\DBAL\Connection;
use Geschenk\App\Entity\RunState;
use Geschenk\Core\Progress;

/** Work that nobody waits for: it makes room as soon as another run waits for a worker. Its steps are one phase. */
final class YieldsToJobs implements Progress
{
    /** Seconds between two looks. */
    private const EACH = 1.0;

    private float $looked = 0.0;

    public function __construct(
        private readonly Progress $progress,
        private readonly Connection $connection,
        private readonly string $runId,
    ) {
    }

    public function phase(string $name, int $items = 0, int $bytes = 0): void
    {
    }

    public function advance(int $items, int $bytes = 0): void
    {
        $this->progress->advance($items, $bytes);
        $now = hrtime(true) / 1e9;
        if ($now - $this->looked >= self::EACH) {
            $this->looked = $now;
            !self::isWanted($this->connection, $this->runId) ?: throw BenchFirst::now();
        }
    }

    /** Whether another run waits for a worker. */
    public static function isWanted(Connection $connection, string $runId): bool
    {
        return false !== $connection->fetchOne('SELECT 1 FROM run WHERE state = :queued AND id <> :own LIMIT 1', [
            'queued' => RunState::Queued->value, 'own' => $runId,
        ]);
    }
}
