<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

/** Whether an account stays out of the job. */
final readonly class LeftOut
{
    public function __construct(
        public bool $leftOut = false,
    ) {
    }
}
