<?php

declare(strict_types=1);

namespace Geschenk\App\Demo;

/** How fast a stand-in cable is. */
final readonly class CableSpeed
{
    public function __construct(
        public float $megabytesPerSecond,
    ) {
    }
}
