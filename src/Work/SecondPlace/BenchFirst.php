<?php

declare(strict_types=1);

namespace Geschenk\App\Work\SecondPlace;

use Geschenk\Core\Hindrance;

/** Somebody waits for a worker: copies for the second place go on behind that. */
final class BenchFirst extends Hindrance
{
    public function isSetback(): bool
    {
        return false;
    }

    public static function now(): self
    {
        return new self('bench_first');
    }
}
