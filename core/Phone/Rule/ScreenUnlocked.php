<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone\Rule;

use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Situation;

/** Messengers and questions show on an unlocked screen alone. */
final readonly class ScreenUnlocked implements Rule
{
    public function judge(Situation $situation): Point
    {
        $phone = $situation->phone;
        $status = Status::of($phone->plugged ? $phone->unlocked : null);

        return new Point('unlocked', $status, Point::OWNER, Point::BLOCKS, 'unlocked');
    }
}
