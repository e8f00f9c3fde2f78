<?php

declare(strict_types=1);

namespace Geschenk\App\Http;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Security\Csrf\CsrfToken;
use Symfony\Component\Security\Csrf\CsrfTokenManagerInterface;

/**
 * The token that a change has to bring. Whoever is signed in has one of their own, which ends with their session. All
 * others share one that is made anew each day: what it opens is the sign-in alone, and it needs no session.
 */
final readonly class Tokens
{
    private const ID = 'geschenk';
    /** Where the firewall keeps who is signed in. */
    private const SIGNED_IN = '_security_main';
    private const DAY = 86_400;

    private string $key;

    public function __construct(
        private CsrfTokenManagerInterface $tokens,
        #[Autowire('%kernel.secret%')] #[\SensitiveParameter]
        string $secret,
    ) {
        $this->key = hash_hkdf('sha256', $secret, 32, 'tokens of nobody');
    }

    public function ofSession(): string
    {
        return $this->tokens->getToken(self::ID)->getValue();
    }

    public function ofNobody(): string
    {
        return $this->onDay(intdiv(time(), self::DAY));
    }

    public function isValid(Request $request, string $token): bool
    {
        if ($request->hasPreviousSession() && $request->getSession()->has(self::SIGNED_IN)) {
            return $this->tokens->isTokenValid(new CsrfToken(self::ID, $token));
        }
        $today = intdiv(time(), self::DAY);

        // A page that was opened yesterday evening signs in this morning.
        return hash_equals($this->onDay($today), $token) || hash_equals($this->onDay($today - 1), $token);
    }

    private function onDay(int $day): string
    {
        return hash_hmac('sha256', (string) $day, $this->key);
    }
}
