<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone\Rule;

use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Situation;

/** An employer that manages a phone can forbid to read it and take back what was written: it blocks the job. */
final readonly class NotManaged implements Rule
{
    public function judge(Situation $situation): Point
    {
        $isManaged = $situation->phone->settings->managed;
        $status = Status::of(null === $isManaged ? null : !$isManaged);

        // Not seen means not told: most phones are nobody's but their owner's.
        return new Point(
            'not_managed', $status, Point::OWNER, null === $isManaged ? Point::WARNS : Point::BLOCKS, 'not_managed',
        );
    }
}
