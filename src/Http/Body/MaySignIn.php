<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

/** Whether a user may sign in. */
final readonly class MaySignIn
{
    public function __construct(public bool $disabled)
    {
    }
}
