<?php

declare(strict_types=1);

namespace Geschenk\App\Words;

use Geschenk\App\Entity\User;
use Symfony\Bundle\SecurityBundle\Security;
use Symfony\Component\HttpFoundation\RequestStack;

/** The language of whoever reads: the user's own; before somebody has signed in, the browser's. */
final readonly class Language
{
    public const DEFAULT = 'en';
    /** BCP 47, each with its catalogue in translations/. */
    public const ALL = ['en', 'de'];

    public function __construct(private Security $security, private RequestStack $requests)
    {
    }

    public function current(): string
    {
        $user = $this->security->getUser();
        if ($user instanceof User) {
            return $user->language();
        }

        return $this->requests->getMainRequest()?->getPreferredLanguage(self::ALL) ?? self::DEFAULT;
    }
}
