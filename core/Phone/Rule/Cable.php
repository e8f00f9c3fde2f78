<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone\Rule;

use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Situation;

/** A data cable to this computer. */
final readonly class Cable implements Rule
{
    public function judge(Situation $situation): Point
    {
        return new Point('cable', Status::of($situation->phone->plugged), Point::TECHNICIAN, Point::BLOCKS, 'cable');
    }
}
