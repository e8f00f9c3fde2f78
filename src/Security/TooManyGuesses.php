<?php

declare(strict_types=1);

namespace Geschenk\App\Security;

use Symfony\Component\Security\Core\Exception\AuthenticationException;

/** The password was not looked at. */
final class TooManyGuesses extends AuthenticationException
{
    /** @param bool $isFirst whether it is the first that is refused in its minute */
    public function __construct(public readonly bool $isFirst)
    {
        parent::__construct();
    }
}
