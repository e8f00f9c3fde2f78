<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

/** Tells a worker to look at what a phone holds: no web request reads what somebody else wrote. */
final readonly class LookAtPhone
{
    public function __construct(public string $serial, public string $app)
    {
    }
}
