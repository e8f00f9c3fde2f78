<?php

declare(strict_types=1);

namespace Geschenk\App\Security;

use Symfony\Component\EventDispatcher\EventSubscriberInterface;
use Symfony\Component\HttpKernel\Event\RequestEvent;
use Symfony\Component\HttpKernel\KernelEvents;
use Symfony\Component\Security\Http\Event\LoginSuccessEvent;
use Symfony\Component\Security\Http\Event\LogoutEvent;

/**
 * Ends a session whose sign-in has ended or is too old. An open page asks all the time, so it is the page that signs
 * out when nobody has touched it (web/lib/idle.ts).
 */
final readonly class SessionLimits implements EventSubscriberInterface
{
    public function __construct(private SignIns $signIns)
    {
    }

    public static function getSubscribedEvents(): array
    {
        return [
            // Before the token is judged and before the firewall looks who is signed in.
            KernelEvents::REQUEST => ['end', 30],
            // Before and after the firewall makes the session anew.
            LoginSuccessEvent::class => [['endTheOneBefore', 100], ['begin', -100]],
            LogoutEvent::class => ['forget', 100],
        ];
    }

    /** Who signs in over a session, their own or another's, ends it. */
    public function endTheOneBefore(LoginSuccessEvent $event): void
    {
        $request = $event->getRequest();
        if ($request->hasPreviousSession()) {
            $this->signIns->forget((string) $request->cookies->get($request->getSession()->getName()));
        }
    }

    public function begin(LoginSuccessEvent $event): void
    {
        $request = $event->getRequest();
        $this->signIns->begin(
            $request->getSession(), $event->getUser()->getUserIdentifier(), (string) $request->getClientIp(),
        );
    }

    public function end(RequestEvent $event): void
    {
        $request = $event->getRequest();
        if (!$request->hasPreviousSession()) {
            return;
        }
        $name = $request->getSession()->getName();
        // What is none is not even begun: whoever sends anything as a session's id leaves no file behind.
        if (!$this->signIns->goesOn((string) $request->cookies->get($name))) {
            $request->cookies->remove($name);
        }
    }

    public function forget(LogoutEvent $event): void
    {
        $number = $this->signIns->numberOf($event->getRequest()->getSession());
        $user = $event->getToken()?->getUserIdentifier();
        if (null !== $number && null !== $user) {
            $this->signIns->end($user, $number);
        }
    }
}
