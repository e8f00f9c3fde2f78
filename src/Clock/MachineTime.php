<?php

declare(strict_types=1);

namespace Geschenk\App\Clock;

/** Time that nobody can set: how long this computer has been up, as its kernel counts it, sleep included. */
class MachineTime
{
    /** Names one start of the computer; another after the next. */
    public function boot(): string
    {
        return trim((string) @file_get_contents('/proc/sys/kernel/random/boot_id'));
    }

    /** Seconds since that start. */
    public function uptime(): float
    {
        return (float) strtok((string) @file_get_contents('/proc/uptime'), ' ');
    }
}
