<?php

declare(strict_types=1);

namespace Geschenk\App\Security;

use Geschenk\App\Http\Problem;
use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Security\Core\Exception\AuthenticationException;
use Symfony\Component\Security\Http\EntryPoint\AuthenticationEntryPointInterface;

final class SignInRequired implements AuthenticationEntryPointInterface
{
    public function start(Request $request, ?AuthenticationException $authException = null): Response
    {
        return str_starts_with($request->getPathInfo(), '/api/')
            ? Problem::response(401, 'Sign in first', 'You are not signed in. Sign in and go on where you were.')
            : new RedirectResponse('/');
    }
}
