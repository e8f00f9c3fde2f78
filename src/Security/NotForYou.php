<?php

declare(strict_types=1);

namespace Geschenk\App\Security;

use Geschenk\App\Http\Problem;
use Geschenk\App\Words\Words;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Security\Core\Exception\AccessDeniedException;
use Symfony\Component\Security\Http\Authorization\AccessDeniedHandlerInterface;

/** Somebody is signed in and may not see this. */
final readonly class NotForYou implements AccessDeniedHandlerInterface
{
    public function __construct(private Words $words)
    {
    }

    public function handle(Request $request, AccessDeniedException $accessDeniedException): Response
    {
        return Problem::response(
            403, $this->words->say('problem.not_for_you'), $this->words->failure('for_the_manager'),
        );
    }
}
