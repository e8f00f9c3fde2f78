<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/** The settings that are switched for a job and have to be switched back after it. */
final class Switchable
{
    public const DEBUGGING = 'usb_debugging';
    public const THEFT_LOCK = 'theft_lock';
    public const LOCK_TIMER = 'lock_timer';
    public const AUTO_BACKUP = 'auto_backup';

    /**
     * @return list<array{code: self::*, app: string, value: int}> those that the phone shows now; 0 and 1 for off and
     *                                                             on, s for the lock timer
     */
    public static function of(PhoneState $phone): array
    {
        $seen = [
            [self::DEBUGGING, '', $phone->plugged ? $phone->debugging : null],
            [self::THEFT_LOCK, '', $phone->settings->theftLock],
            [self::LOCK_TIMER, '', $phone->settings->lockAfter],
        ];
        foreach ($phone->apps ?? [] as $app) {
            $seen[] = [self::AUTO_BACKUP, $app->id, $app->autoBackup];
        }
        $settings = [];
        foreach ($seen as [$code, $app, $value]) {
            if (null !== $value) {
                $settings[] = ['code' => $code, 'app' => $app, 'value' => (int) $value];
            }
        }

        return $settings;
    }
}
