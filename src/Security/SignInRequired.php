<?php

declare(strict_types=1);

namespace Geschenk\App\Security;

use Geschenk\App\Http\Problem;
use Geschenk\App\Words\Words;
use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Security\Core\Exception\AuthenticationException;
use Symfony\Component\Security\Http\EntryPoint\AuthenticationEntryPointInterface;

final readonly class SignInRequired implements AuthenticationEntryPointInterface
{
    public function __construct(private Words $words)
    {
    }

    public function start(Request $request, ?AuthenticationException $authException = null): Response
    {
        return str_starts_with($request->getPathInfo(), '/api/')
            ? Problem::response(401, $this->words->say('problem.sign_in_first'), $this->words->failure('sign_in_first'))
            : new RedirectResponse('/');
    }
}
