<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Standing;

use Geschenk\App\Entity\TrayPhone;
use Geschenk\Core\Phone\Point;

/** What has to be done on a phone before the work can begin. */
final readonly class LackingPoint
{
    public function __construct(public TrayPhone $phone, public Point $point)
    {
    }
}
