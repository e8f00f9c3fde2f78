<?php

declare(strict_types=1);

namespace Geschenk\App\Bench;

/** Tells a worker to look at what an app on a phone holds. */
final readonly class LookAtPhone
{
    public function __construct(public string $serial, public string $app)
    {
    }
}
