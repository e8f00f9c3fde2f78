<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Tray\Time\Forecast;

/**
 * How far a run is, with what it takes still, as far as anybody can know.
 *
 * @phpstan-type ProgressRow array{
 *     phase: string, items_done: int, items_total: int, bytes_done: int, bytes_total: int,
 *     bytes_per_second: int|null, seconds_left: int|null, job_seconds_left: int|null,
 * }
 */
final readonly class ProgressView
{
    /** Seconds: from less than that no speed is told. */
    private const LEAST = 0.4;

    public function __construct(private Forecast $forecast)
    {
    }

    /** @return ProgressRow */
    public function of(Run $run): array
    {
        // While it waits or rests nothing moves, so there is no speed to tell.
        $isStill = in_array($run->state(), [RunState::Waiting, RunState::Paused], true);
        $seconds = $isStill ? 0.0 : max(0.001, $run->movedAt - $run->phaseStartedAt);
        $bytes = $run->bytesDone - $run->bytesBefore;
        $items = $run->itemsDone - $run->itemsBefore;
        $left = match (true) {
            $seconds <= self::LEAST => null,
            $run->bytesTotal > 0 && $bytes > 0 => ($run->bytesTotal - $run->bytesDone) / ($bytes / $seconds),
            $run->itemsTotal > 0 && $items > 0 => ($run->itemsTotal - $run->itemsDone) / ($items / $seconds),
            default => null,
        };

        return [
            'phase' => $run->phase, 'items_done' => $run->itemsDone, 'items_total' => $run->itemsTotal,
            'bytes_done' => $run->bytesDone, 'bytes_total' => $run->bytesTotal,
            'bytes_per_second' => $bytes > 0 && $seconds > self::LEAST ? (int) ($bytes / $seconds) : null,
            'seconds_left' => null === $left ? null : max(0, (int) ceil($left)),
            'job_seconds_left' => RunState::Working === $run->state()
                ? $this->forecast->secondsLeft($run, $left)
                : null,
        ];
    }
}
