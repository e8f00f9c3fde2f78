<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone\Rule;

use Geschenk\Core\Phone\AccountAsked;
use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Role;
use Geschenk\Core\Phone\Situation;

/** A messenger that was just registered offers to fetch a backup of its own from the net: old chats, and others. */
final readonly class CloudDeclined implements AccountRule
{
    public function judge(Situation $situation, AccountAsked $account): ?Point
    {
        $app = $situation->phone->app($account->app);
        if (Role::Receives !== $situation->role || true !== $app?->offersCloud) {
            return null;
        }

        return new Point(
            'cloud_declined', Point::TO_DO, Point::TECHNICIAN, Point::BLOCKS, 'cloud_declined',
            ['name' => $account->name], $account->app,
        );
    }
}
