<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone\Rule;

use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Situation;

/** A phone that locks itself in the middle interrupts the run; it goes on afterwards, so this is no hindrance. */
final readonly class LockTimer implements Rule
{
    /** Seconds: what nobody should have to tap within. */
    private const LEAST = 300;

    public function judge(Situation $situation): Point
    {
        $after = $situation->phone->settings->lockAfter;
        $wanted = max(self::LEAST, min(1_800, $situation->job?->seconds() ?? 0));
        $params = ['minutes' => (int) ceil($wanted / 60)];
        // At the longest that phones offer, the rest is up to a finger now and then.
        $status = Status::of(null === $after ? null : 0 === $after || $after >= min(600, $wanted));

        return new Point('lock_timer', $status, Point::TECHNICIAN, Point::WARNS, 'lock_timer', $params);
    }
}
