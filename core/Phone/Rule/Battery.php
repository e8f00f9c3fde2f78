<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone\Rule;

use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Situation;

/** Enough for the whole job, which is computed from its bytes; a third while nobody knows them. */
final readonly class Battery implements Rule
{
    /** Percent. */
    private const UNKNOWN_JOB = 30;

    public function judge(Situation $situation): Point
    {
        $percent = $situation->phone->battery;
        $least = $situation->job?->battery() ?? self::UNKNOWN_JOB;
        $params = ['percent' => $percent ?? 0, 'least' => $least];
        $variant = null === $percent ? 'battery_unseen' : 'battery';
        $status = Status::of(null === $percent ? null : $percent >= $least);

        return new Point('battery', $status, Point::TECHNICIAN, Point::BLOCKS, $variant, $params);
    }
}
