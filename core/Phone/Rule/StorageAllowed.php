<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone\Rule;

use Geschenk\Core\Phone\AccountAsked;
use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Role;
use Geschenk\Core\Phone\Situation;
use Geschenk\Core\Platform;

/** Without it the messenger finds none of the attachments that were put there for it; Android asks for it apart. */
final readonly class StorageAllowed implements AccountRule
{
    public function judge(Situation $situation, AccountAsked $account): ?Point
    {
        $phone = $situation->phone;
        if (Platform::Android !== $phone->platform || null === $phone->app($account->app)) {
            return null;
        }
        $severity = Role::Receives === $situation->role ? Point::BLOCKS : Point::WARNS;

        return new Point(
            'storage_allowed', Status::of($phone->app($account->app)->storageAllowed), Point::TECHNICIAN, $severity,
            'storage_allowed', ['name' => $account->name], $account->app,
        );
    }
}
