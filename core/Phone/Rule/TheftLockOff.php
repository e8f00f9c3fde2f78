<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone\Rule;

use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Role;
use Geschenk\Core\Phone\Situation;
use Geschenk\Core\Platform;

/** With the theft lock on, an iOS phone takes nothing that is put back; it asks for the account's password. */
final readonly class TheftLockOff implements Rule
{
    public function judge(Situation $situation): ?Point
    {
        if (Role::Receives !== $situation->role || Platform::Ios !== $situation->phone->platform) {
            return null;
        }
        $isOn = $situation->phone->settings->theftLock;
        $status = Status::of(null === $isOn ? null : !$isOn);

        return new Point('theft_lock', $status, Point::OWNER, Point::BLOCKS, 'theft_lock');
    }
}
