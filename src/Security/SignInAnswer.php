<?php

declare(strict_types=1);

namespace Geschenk\App\Security;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\User;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Http\Problem;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Words\Words;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\RequestStack;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\PasswordHasher\Hasher\PasswordHasherFactoryInterface;
use Symfony\Component\Security\Core\Authentication\Token\TokenInterface;
use Symfony\Component\Security\Core\Exception\AuthenticationException;
use Symfony\Component\Security\Core\Exception\UserNotFoundException;
use Symfony\Component\Security\Http\Authentication\AuthenticationFailureHandlerInterface;
use Symfony\Component\Security\Http\Authentication\AuthenticationSuccessHandlerInterface;
use Symfony\Component\Security\Http\Authenticator\Passport\Badge\UserBadge;
use Symfony\Component\Security\Http\Authenticator\Passport\Credentials\PasswordCredentials;
use Symfony\Component\Security\Http\Event\CheckPassportEvent;
use Symfony\Component\Security\Http\Event\LoginFailureEvent;
use Symfony\Component\Security\Http\Event\LoginSuccessEvent;

/** What signing in answers, and the log of it. */
final readonly class SignInAnswer implements
    AuthenticationSuccessHandlerInterface,
    AuthenticationFailureHandlerInterface
{
    public function __construct(
        private SessionView $session,
        private SignInAttempts $attempts,
        private ShopLog $log,
        private EntityManagerInterface $entities,
        private Words $words,
        private RequestStack $requests,
        private PasswordHasherFactoryInterface $hashers,
    ) {
    }

    #[AsEventListener(priority: 1000)]
    public function beforePassword(CheckPassportEvent $event): void
    {
        $passport = $event->getPassport();
        $badge = $passport->getBadge(UserBadge::class);
        $credentials = $passport->getBadge(PasswordCredentials::class);
        if (!$badge instanceof UserBadge || !$credentials instanceof PasswordCredentials) {
            throw new \LogicException('Signing in takes a name and a password.');
        }
        $tooMany = $this->attempts->count($badge->getUserIdentifier(), $this->address());
        if ($tooMany > 0) {
            // Said once a minute: a log that anybody can fill hides what matters.
            throw new TooManyGuesses(1 === $tooMany);
        }
        $this->attempts->slowDown($badge->getUserIdentifier());
        try {
            $badge->getUser();
        } catch (UserNotFoundException $nobody) {
            // Takes as long as looking at a wrong password does, so that time does not tell who works here.
            $this->hashers->getPasswordHasher(User::class)->hash(mb_strcut($credentials->getPassword(), 0, 4096));
            throw $nobody;
        }
    }

    /** In the log with the name of somebody who works here; what else was typed as a name may be a password. */
    #[AsEventListener]
    public function refused(LoginFailureEvent $event): void
    {
        $exception = $event->getException();
        if ($exception instanceof TooManyGuesses && !$exception->isFirst) {
            return;
        }
        $badge = $event->getPassport()?->getBadge(UserBadge::class);
        $name = $badge instanceof UserBadge ? $badge->getUserIdentifier() : '';
        $user = $this->entities->getRepository(User::class)->findOneBy(['username' => $name]);
        $this->log->note(
            $user?->getUserIdentifier() ?? '?',
            $exception instanceof TooManyGuesses ? 'sign_in_rests' : 'sign_in_refused_from', null,
            ['address' => $this->address()],
        );
    }

    public function onAuthenticationSuccess(Request $request, TokenInterface $token): ?Response
    {
        return null;
    }

    /** Last of all: signing in renews the session and forgets its tokens, so the answer's token is made after that. */
    #[AsEventListener(priority: -1000)]
    public function signedIn(LoginSuccessEvent $event): void
    {
        $user = $event->getUser();
        if (!$user instanceof User) {
            throw new \LogicException('Signed in as something that is no user of the shop.');
        }
        $this->attempts->succeeded($user->getUserIdentifier(), $this->address());
        $this->log->note($user->getUserIdentifier(), 'signed_in_from', null, ['address' => $this->address()]);
        $this->entities->flush();

        $event->setResponse(new JsonAnswer($this->session->of($user)));
    }

    public function onAuthenticationFailure(Request $request, AuthenticationException $exception): Response
    {
        $why = $exception instanceof TooManyGuesses ? 'too_many_guesses' : 'wrong_password';

        return Problem::response(401, $this->words->say('problem.not_signed_in'), $this->words->failure($why));
    }

    private function address(): string
    {
        return $this->requests->getMainRequest()?->getClientIp() ?? '';
    }
}
