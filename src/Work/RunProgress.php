<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Doctrine\DBAL\Connection;
use Geschenk\Core\Progress;
use Psr\Clock\ClockInterface;

/** Writes a run's progress into its row, a few times a second, beside the transaction of whoever works. */
final class RunProgress implements Progress
{
    private const INTERVAL = 0.25;

    private int $items = 0;
    private int $bytes = 0;
    private int $itemsTotal = 0;
    private int $bytesTotal = 0;
    private float $written = 0.0;
    private bool $started = false;

    private string $phase = '';
    /** Seconds of the machine's own time when the phase began. */
    private float $begunAt;
    private int $bytesBefore = 0;
    /** @var array<string, array{seconds: float, bytes: int|null}> by phase that is over */
    private array $spent = [];

    public function __construct(
        private readonly Connection $connection,
        private readonly string $runId,
        private readonly ClockInterface $clock,
    ) {
        $this->begunAt = hrtime(true) / 1e9;
    }

    /** @return array<string, array{seconds: float, bytes: int|null}> by phase; bytes that moved, where it tells */
    public function spent(): array
    {
        $this->closePhase();

        return $this->spent;
    }

    public function phase(string $name, int $items = 0, int $bytes = 0): void
    {
        $this->closePhase();
        $this->phase = $name;
        $this->bytesBefore = 0;
        $now = $this->now();
        $this->items = 0;
        $this->bytes = 0;
        $this->written = $now;
        $this->started = false;
        [$this->itemsTotal, $this->bytesTotal] = [$items, $bytes];
        $this->connection->update('run', [
            'phase' => $name, 'items_done' => 0, 'items_total' => $items, 'bytes_done' => 0, 'bytes_total' => $bytes,
            'phase_started_at' => $now, 'moved_at' => $now, 'items_before' => 0, 'bytes_before' => 0,
        ], ['id' => $this->runId]);
    }

    public function advance(int $items, int $bytes = 0): void
    {
        // What had to be brought twice is counted once.
        $this->items = min($this->items + $items, $this->itemsTotal > 0 ? $this->itemsTotal : \PHP_INT_MAX);
        $this->bytes = min($this->bytes + $bytes, $this->bytesTotal > 0 ? $this->bytesTotal : \PHP_INT_MAX);
        $now = $this->now();
        if (!$this->started) {
            // What an earlier run had done is told in the first step and must not count as speed.
            $this->started = true;
            if ($items > 1) {
                $this->bytesBefore = $this->bytes;
                $this->connection->update(
                    'run',
                    [
                        'items_before' => $this->items, 'bytes_before' => $this->bytes, 'items_done' => $this->items,
                        'bytes_done' => $this->bytes, 'moved_at' => $now,
                    ],
                    ['id' => $this->runId],
                );
            }
        }
        if ($now - $this->written >= self::INTERVAL) {
            $this->written = $now;
            $this->connection->update(
                'run', ['items_done' => $this->items, 'bytes_done' => $this->bytes, 'moved_at' => $now],
                ['id' => $this->runId],
            );
            $wish = $this->connection->fetchOne('SELECT stop_wish FROM run WHERE id = ?', [$this->runId]);
            if (is_string($wish)) {
                throw new RunStopped();
            }
        }
    }

    /** Seconds since 1970, in parts. */
    private function now(): float
    {
        return (float) $this->clock->now()->format('U.u');
    }

    private function closePhase(): void
    {
        $now = hrtime(true) / 1e9;
        $before = $this->spent[$this->phase] ?? ['seconds' => 0.0, 'bytes' => null];
        $bytes = $this->bytes - $this->bytesBefore;
        $this->spent[$this->phase] = [
            'seconds' => $before['seconds'] + $now - $this->begunAt,
            'bytes' => $bytes > 0 ? $bytes + ($before['bytes'] ?? 0) : $before['bytes'],
        ];
        $this->begunAt = $now;
    }
}
