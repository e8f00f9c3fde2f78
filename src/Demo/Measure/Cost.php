<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Measure;

/** What work costs, as the benchmarks count it. */
final class Cost
{
    /** @param callable(): mixed $work */
    public static function seconds(callable $work): float
    {
        $start = hrtime(true);
        $work();

        return (hrtime(true) - $start) / 1e9;
    }

    /** The most memory that the whole process had at once, SQLite's included; proc(5), VmHWM. */
    public static function peakBytes(): int
    {
        return 1 === preg_match('/^VmHWM:\s+(\d+) kB/m', (string) @file_get_contents('/proc/self/status'), $found)
            ? (int) $found[1] * 1024
            : memory_get_peak_usage(true);
    }
}
