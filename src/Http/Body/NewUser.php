<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Symfony\Component\Validator\Constraints as Assert;

/** Somebody who is to work here; Staff and Passwords say what name and password have to be. */
final readonly class NewUser
{
    /** @param string $ownPassword of whoever asks */
    public function __construct(
        #[Text(60)] public string $name,
        #[Assert\Length(max: 120)] public string $displayName,
        #[Assert\Choice(['technician', 'manager', 'wall'])] public string $role,
        #[\SensitiveParameter] public string $password,
        #[\SensitiveParameter] public string $ownPassword,
    ) {
    }
}
