<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support;

use Geschenk\App\Clock\MachineTime;

/** The machine's own time, in the hands of a test. */
final class Machine extends MachineTime
{
    public float $seconds = 100.0;
    private int $starts = 1;

    public function boot(): string
    {
        return 'start-'.$this->starts;
    }

    public function uptime(): float
    {
        return $this->seconds;
    }

    public function start(): void
    {
        ++$this->starts;
        $this->seconds = 10.0;
    }
}
