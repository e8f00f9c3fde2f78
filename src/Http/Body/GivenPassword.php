<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

/** A password for somebody else; Passwords says what it has to be. */
final readonly class GivenPassword
{
    /** @param string $ownPassword of whoever asks */
    public function __construct(
        #[\SensitiveParameter] public string $password,
        #[\SensitiveParameter] public string $ownPassword,
    ) {
    }
}
