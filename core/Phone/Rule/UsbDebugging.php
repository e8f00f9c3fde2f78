<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone\Rule;

use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Situation;
use Geschenk\Core\Platform;

/** How an Android phone is read over the cable; its developer options ask for the screen code. */
final readonly class UsbDebugging implements Rule
{
    public function judge(Situation $situation): ?Point
    {
        $phone = $situation->phone;
        if (Platform::Android !== $phone->platform) {
            return null;
        }
        $status = Status::of($phone->plugged ? true === $phone->debugging : null);

        return new Point('usb_debugging', $status, Point::OWNER, Point::BLOCKS, 'usb_debugging');
    }
}
