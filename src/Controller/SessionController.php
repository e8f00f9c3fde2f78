<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\SignIn;
use Geschenk\App\Entity\User;
use Geschenk\App\Http\Body\AnotherPassword;
use Geschenk\App\Http\Body\Spoken;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\Security\OwnPassword;
use Geschenk\App\Security\SessionView;
use Geschenk\App\Security\SignIns;
use Geschenk\App\Security\SignInView;
use Geschenk\App\Security\Staff;
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
        private OwnPassword $own,
        private Staff $staff,
        private SignIns $signIns,
        private SignInView $signInView,
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
        $this->own->ensure($name, $asked->password, (string) $request->getClientIp());
        $this->staff->changePassword($name, $asked->another, $name);
        $this->security->logout(false);

        return new JsonAnswer($this->view->of(null));
    }

    /** Where the user is signed in just now. */
    #[Route('/api/session/others', methods: ['GET'])]
    public function sessions(Request $request, #[CurrentUser] User $user): JsonResponse
    {
        return $this->listed($request, $user);
    }

    #[Route('/api/session/others/{number<\d{1,9}>}', methods: ['DELETE'])]
    public function endSession(int $number, Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $name = $user->getUserIdentifier();
        $this->staff->endSession($name, $number, $name);

        return $this->listed($request, $user);
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

    private function listed(Request $request, User $user): JsonResponse
    {
        $own = $this->signIns->numberOf($request->getSession());

        return new JsonAnswer(['sessions' => array_map(
            fn (SignIn $signIn): array => $this->signInView->of($signIn, $own),
            $this->signIns->open($user->getUserIdentifier()),
        )]);
    }
}
