<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone\Rule;

use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Situation;

/** The phone lets this computer in: asked on its screen, answered with the owner's code. */
final readonly class ComputerAllowed implements Rule
{
    public function judge(Situation $situation): Point
    {
        $phone = $situation->phone;
        $isAsked = $phone->plugged && false !== $phone->debugging;
        $variant = 'computer_allowed_'.$phone->platform->value;

        return new Point(
            'computer_allowed', Status::of($isAsked ? $phone->admitted : null), Point::OWNER, Point::BLOCKS, $variant,
        );
    }
}
