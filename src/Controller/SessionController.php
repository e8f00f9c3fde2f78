<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Entity\User;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Security\SessionView;
use Symfony\Bundle\SecurityBundle\Security;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;

final readonly class SessionController
{
    public function __construct(private Security $security, private SessionView $view)
    {
    }

    #[Route('/api/session', methods: ['GET'])]
    public function show(): JsonResponse
    {
        $user = $this->security->getUser();

        return new JsonAnswer($this->view->of($user instanceof User ? $user : null));
    }

    /** The firewall answers this; the route only names it. */
    #[Route('/api/session', name: 'session_sign_in', methods: ['POST'])]
    public function signIn(): JsonResponse
    {
        return $this->show();
    }

    #[Route('/api/session', methods: ['DELETE'])]
    public function signOut(): JsonResponse
    {
        if (null !== $this->security->getUser()) {
            $this->security->logout(false);
        }

        return new JsonAnswer($this->view->of(null));
    }
}
