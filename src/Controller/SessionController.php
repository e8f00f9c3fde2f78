<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\User;
use Geschenk\App\Http\Body\AnotherPassword;
use Geschenk\App\Http\Body\Spoken;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Security\Passwords;
use Geschenk\App\Security\SessionView;
use Geschenk\App\Security\SignInAttempts;
use Geschenk\App\Words\Language;
use Symfony\Bundle\SecurityBundle\Security;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Attribute\MapRequestPayload;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

final readonly class SessionController
{
    public function __construct(
        private Security $security,
        private SessionView $view,
        private Records $records,
        private EntityManagerInterface $entities,
        private ShopLog $log,
        private Passwords $passwords,
        private SignInAttempts $attempts,
    ) {
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

    /** The language that the user reads from now on. */
    #[Route('/api/session/language', methods: ['PUT'])]
    public function speak(#[MapRequestPayload('json')] Spoken $spoken, #[CurrentUser] User $user): JsonResponse
    {
        $language = $spoken->language;
        $name = $user->getUserIdentifier();
        $this->records->change(function () use ($name, $language): void {
            $this->entities->getRepository(User::class)->findOneBy(['username' => $name])?->speak($language);
            $this->log->note($name, 'language', null, ['language' => $language]);
        });
        $user->speak($language);

        return new JsonAnswer($this->view->of($user));
    }

    /** Ends all sessions of the user, this one too: they sign in with it. */
    #[Route('/api/session/password', methods: ['PUT'])]
    public function changePassword(
        #[MapRequestPayload('json')] AnotherPassword $asked,
        Request $request,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $name = $user->getUserIdentifier();
        // Whoever finds an open page guesses no faster than at the door.
        if ($this->attempts->count($name, (string) $request->getClientIp()) > 0) {
            throw Refusal::because('too_many_guesses');
        }
        $this->records->change(function () use ($name, $asked): void {
            $user = $this->entities->getRepository(User::class)->findOneBy(['username' => $name]);
            if (null === $user || !$this->passwords->isOf($user, $asked->password)) {
                throw Refusal::because('own_password_wrong');
            }
            $this->passwords->give($user, $asked->another);
            $this->log->note($name, 'user_password', null, ['name' => $name]);
        });
        $this->security->logout(false);

        return new JsonAnswer($this->view->of(null));
    }

    #[Route('/api/session', methods: ['DELETE'])]
    public function signOut(): JsonResponse
    {
        $user = $this->security->getUser();
        if (null !== $user) {
            $this->log->note($user->getUserIdentifier(), 'signed_out');
            $this->security->logout(false);
        }

        return new JsonAnswer($this->view->of(null));
    }
}
