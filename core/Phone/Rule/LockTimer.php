<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone\Rule;

use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Situation;

/** A phone that locks itself in the middle interrupts the run; it goes on afterwards, so this is no hindrance. */
final readonly class LockTimer implements Rule
{
    /** Seconds: what nobody should have to tap within, and the longest that phones offer besides never. */
    private const LEAST = 300;
    private const LONGEST = 600;

    public function judge(Situation $situation): Point
    {
        $after = $situation->phone->settings->lockAfter;
        $wanted = max(self::LEAST, min(self::LONGEST, $situation->job?->seconds() ?? 0));
        $params = ['minutes' => (int) ceil($wanted / 60)];
        $status = Status::of(null === $after ? null : 0 === $after || $after >= $wanted);

        return new Point('lock_timer', $status, Point::TECHNICIAN, Point::WARNS, 'lock_timer', $params);
    }
}
