<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

/** Whether eyes found something to be the same. */
final readonly class EyeTicked
{
    public function __construct(
        public bool $same = true,
    ) {
    }
}
