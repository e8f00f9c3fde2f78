<?php

declare(strict_types=1);

namespace Geschenk\App\Security;

use Geschenk\App\Entity\User;
use Symfony\Component\Security\Core\Authentication\Token\TokenInterface;
use Symfony\Component\Security\Core\Exception\DisabledException;
use Symfony\Component\Security\Core\User\UserCheckerInterface;
use Symfony\Component\Security\Core\User\UserInterface;

/** After the password was looked at, so that its answer takes as long and says as little as any. */
final class WorksHere implements UserCheckerInterface
{
    public function checkPreAuth(UserInterface $user): void
    {
    }

    public function checkPostAuth(UserInterface $user, ?TokenInterface $token = null): void
    {
        if ($user instanceof User && $user->isDisabled()) {
            throw new DisabledException();
        }
    }
}
