<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

/** A user's own password, and the one that is to take its place; Passwords says what that has to be. */
final readonly class AnotherPassword
{
    public function __construct(
        #[\SensitiveParameter] public string $password,
        #[\SensitiveParameter] public string $another,
    ) {
    }
}
