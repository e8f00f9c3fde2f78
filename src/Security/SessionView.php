<?php

declare(strict_types=1);

namespace Geschenk\App\Security;

use Geschenk\App\Entity\User;
use Geschenk\App\Http\Tokens;
use Geschenk\App\Words\Language;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

final readonly class SessionView
{
    /** @param bool $hasDesk whether there are stand-in phones, and a desk for the hands at them */
    public function __construct(
        private Tokens $tokens,
        private Language $language,
        #[Autowire(param: 'geschenk.has_desk')]
        private bool $hasDesk,
    ) {
    }

    /**
     * @return array{
     *     user: array{name: string, display_name: string, role: string}|null, language: string, token: string,
     *     desk: bool,
     * }
     */
    public function of(?User $user): array
    {
        return [
            'user' => null === $user
                ? null
                : [
                    'name' => $user->getUserIdentifier(), 'display_name' => $user->displayName(),
                    'role' => $user->role(),
                ],
            'language' => $user?->language() ?? $this->language->current(),
            'token' => null === $user ? $this->tokens->ofNobody() : $this->tokens->ofSession(),
            'desk' => $this->hasDesk,
        ];
    }
}
