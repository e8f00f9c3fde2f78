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
            // The session has been made anew by then.
            LoginSuccessEvent::class => ['begin', -100],
            LogoutEvent::class => ['forget', 100],
        ];
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
        if ($request->hasPreviousSession() && !$this->signIns->goesOn($request->getSession())) {
            $request->getSession()->invalidate();
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
