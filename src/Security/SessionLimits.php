<?php

declare(strict_types=1);

namespace Geschenk\App\Security;

use Symfony\Component\Clock\ClockInterface;
use Symfony\Component\EventDispatcher\EventSubscriberInterface;
use Symfony\Component\HttpFoundation\Session\SessionInterface;
use Symfony\Component\HttpKernel\Event\RequestEvent;
use Symfony\Component\HttpKernel\KernelEvents;
use Symfony\Component\Security\Http\Event\LoginSuccessEvent;

/**
 * When a session ends by itself: after half an hour without a request, and after twelve hours in any case. An open page
 * asks all the time, so it is the page that signs out when nobody has touched it (web/lib/idle.ts).
 */
final readonly class SessionLimits implements EventSubscriberInterface
{
    /** Seconds. */
    public const IDLE = 1_800;
    public const LONGEST = 43_200;
    /** What is noted at most so often, so that not every request writes. */
    private const NOTED_EVERY = 60;

    private const BEGUN = 'geschenk.begun';
    private const USED = 'geschenk.used';

    public function __construct(private ClockInterface $clock)
    {
    }

    public static function getSubscribedEvents(): array
    {
        return [
            // Before the token is judged and before the firewall looks who is signed in.
            KernelEvents::REQUEST => ['end', 30],
            LoginSuccessEvent::class => 'begin',
        ];
    }

    public function begin(LoginSuccessEvent $event): void
    {
        $session = $event->getRequest()->getSession();
        $session->set(self::BEGUN, $this->now());
        $session->set(self::USED, $this->now());
    }

    public function end(RequestEvent $event): void
    {
        if (!$event->getRequest()->hasPreviousSession()) {
            return;
        }
        $session = $event->getRequest()->getSession();
        $age = $this->since($session, self::BEGUN);
        $idle = $this->since($session, self::USED);
        // A clock that was set back far makes no session longer.
        if ($age < 0 || $age > self::LONGEST || $idle < -self::NOTED_EVERY || $idle > self::IDLE) {
            $session->invalidate();
        } elseif ($idle > self::NOTED_EVERY) {
            $session->set(self::USED, $this->now());
        }
    }

    private function since(SessionInterface $session, string $name): int
    {
        $at = $session->get($name);

        return is_int($at) ? $this->now() - $at : \PHP_INT_MAX;
    }

    private function now(): int
    {
        return $this->clock->now()->getTimestamp();
    }
}
