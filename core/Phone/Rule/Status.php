<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone\Rule;

use Geschenk\Core\Phone\Point;

/** What is seen of a condition: met, not met, or nothing yet. */
final class Status
{
    /** @return Point::READY|Point::TO_DO|Point::UNSEEN */
    public static function of(?bool $isMet): string
    {
        return match ($isMet) {
            true => Point::READY, false => Point::TO_DO, null => Point::UNSEEN,
        };
    }
}
