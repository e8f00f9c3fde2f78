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
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Security\Core\Authentication\Token\TokenInterface;
use Symfony\Component\Security\Core\Exception\AuthenticationException;
use Symfony\Component\Security\Core\Exception\CustomUserMessageAuthenticationException;
use Symfony\Component\Security\Http\Authentication\AuthenticationFailureHandlerInterface;
use Symfony\Component\Security\Http\Authentication\AuthenticationSuccessHandlerInterface;
use Symfony\Component\Security\Http\Authenticator\Passport\Badge\UserBadge;
use Symfony\Component\Security\Http\Event\CheckPassportEvent;
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
    ) {
    }

    #[AsEventListener(priority: 1000)]
    public function beforePassword(CheckPassportEvent $event): void
    {
        $badge = $event->getPassport()->getBadge(UserBadge::class);
        if ($badge instanceof UserBadge && $this->attempts->isResting($badge->getUserIdentifier())) {
            throw new CustomUserMessageAuthenticationException('too_many_guesses');
        }
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
        $this->attempts->succeeded($user->getUserIdentifier());
        $this->log->note($user->getUserIdentifier(), 'signed_in');
        $this->entities->flush();

        $event->setResponse(new JsonAnswer($this->session->of($user)));
    }

    public function onAuthenticationFailure(Request $request, AuthenticationException $exception): Response
    {
        $body = json_decode($request->getContent(), true, 4);
        $name = is_array($body) && is_string($body['username'] ?? null) ? mb_substr($body['username'], 0, 60) : '';
        $this->attempts->failed($name);
        $this->log->note('' === $name ? '?' : mb_scrub($name), 'sign_in_refused');
        $this->entities->flush();

        $why = $exception instanceof CustomUserMessageAuthenticationException
            ? $exception->getMessageKey()
            : 'wrong_password';

        return Problem::response(401, $this->words->say('problem.not_signed_in'), $this->words->failure($why));
    }
}
