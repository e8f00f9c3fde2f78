<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone\Rule;

use Geschenk\Core\Phone\AccountAsked;
use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Situation;

/** A messenger that backs itself up meanwhile writes beside us, and puts a half restored state over a good one. */
final readonly class AutoBackupOff implements AccountRule
{
    public function judge(Situation $situation, AccountAsked $account): ?Point
    {
        $app = $situation->phone->app($account->app);
        if (null === $app) {
            return null;
        }
        $status = Status::of(null === $app->autoBackup ? null : !$app->autoBackup);

        return new Point(
            'auto_backup', $status, Point::TECHNICIAN, Point::WARNS, 'auto_backup', ['name' => $account->name],
            $account->app,
        );
    }
}
