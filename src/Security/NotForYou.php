<?php

declare(strict_types=1);

namespace Geschenk\App\Security;

use Geschenk\App\Http\Problem;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Security\Core\Exception\AccessDeniedException;
use Symfony\Component\Security\Http\Authorization\AccessDeniedHandlerInterface;

/** Somebody is signed in and may not see this. */
final class NotForYou implements AccessDeniedHandlerInterface
{
    public function handle(Request $request, AccessDeniedException $accessDeniedException): Response
    {
        return Problem::response(403, 'Not for you', 'This is for the manager. Sign in as the manager to see it.');
    }
}
