<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

use Geschenk\Core\Platform;

/** Whether a phone is fit for the work, point by point. */
final class Readiness
{
    /** Percent. */
    public const BATTERY_LEAST = 30;
    /** Share of free space that must remain after writing. */
    public const SPACE_MARGIN = 0.1;

    /**
     * What holds for the phone as a whole.
     *
     * @param PhoneState|null $phone null when it is not at the bench
     * @param int|null        $bytes what will be written to it; null while nobody knows
     *
     * @return non-empty-list<Point>
     */
    public static function ofPhone(?PhoneState $phone, Role $role, ?int $bytes): array
    {
        if (null === $phone) {
            return [self::point('bench', false)];
        }
        $hasBattery = null === $phone->battery ? null : $phone->battery >= self::BATTERY_LEAST;
        $battery = ['percent' => $phone->battery ?? 0, 'least' => self::BATTERY_LEAST];
        $points = [
            self::point('cable', $phone->plugged),
            self::point('unlocked', $phone->plugged ? $phone->unlocked : null),
            ...match ($phone->platform) {
                Platform::Android => self::android($phone),
                Platform::Ios => self::ios($phone),
            },
            self::point('battery', $hasBattery, null === $hasBattery ? 'battery_unseen' : 'battery', $battery),
        ];
        if (Role::Receives === $role) {
            $points[] = self::space($phone, $bytes);
        }

        return $points;
    }

    /**
     * What holds for one messenger on the phone.
     *
     * @param string      $app    id of the app
     * @param string      $name   what people call it
     * @param string|null $number E.164 number that the other phone has; null while nobody knows
     *
     * @return list<Point>
     */
    public static function ofAccount(?PhoneState $phone, Role $role, string $app, string $name, ?string $number): array
    {
        if (null === $phone) {
            return [];
        }
        $state = $phone->app($app);
        $params = ['name' => $name, 'other_number' => $number ?? ''];
        if (null === $state) {
            $isThere = null === $phone->apps ? null : false;

            return [
                self::point('messenger', $isThere, 'messenger_unseen', $params, $app),
                self::point('number', null, 'number_unseen', $params, $app),
            ];
        }
        $installed = ['name' => $state->name, 'version' => $state->version];
        $points = [self::point('messenger', true, 'messenger', $installed, $app)];
        $registered = [
            'name' => $name, 'own_number' => $state->number ?? '', 'other_number' => $number ?? '',
        ];
        $points[] = match (true) {
            null === $state->number => self::point(
                'number', false, null === $number ? 'number_none' : 'number_none_known', $registered, $app,
            ),
            null === $number => self::point('number', Role::Gives === $role ? true : null, 'number', $registered, $app),
            default => self::point('number', $state->number === $number, 'number', $registered, $app),
        };

        return $points;
    }

    /** @param list<Point> $points */
    public static function allReady(array $points): bool
    {
        return [] === array_filter($points, static fn (Point $point): bool => !$point->isReady());
    }

    /** Bytes that must be free before so many are written. */
    public static function spaceNeeded(int $bytes): int
    {
        return (int) ceil($bytes * (1 + self::SPACE_MARGIN));
    }

    /** @return list<Point> */
    private static function android(PhoneState $phone): array
    {
        $isAllowed = $phone->plugged && true === $phone->debugging ? $phone->admitted : null;

        return [
            self::point('usb_debugging', $phone->plugged ? true === $phone->debugging : null),
            self::point('computer_allowed', $isAllowed, 'computer_allowed_android'),
        ];
    }

    /** @return list<Point> */
    private static function ios(PhoneState $phone): array
    {
        return [self::point('computer_allowed', $phone->plugged ? $phone->admitted : null, 'computer_allowed_ios')];
    }

    private static function space(PhoneState $phone, ?int $bytes): Point
    {
        if (null === $phone->free) {
            return self::point('space', null, 'space_unseen');
        }
        if (null === $bytes) {
            return self::point('space', $phone->free > 0, 'space_unknown', ['free_bytes' => $phone->free]);
        }
        $needed = self::spaceNeeded($bytes);

        return self::point('space', $phone->free >= $needed, 'space', [
            'free_bytes' => $phone->free, 'needed_bytes' => $needed,
            'short_bytes' => max(0, $needed - $phone->free),
        ]);
    }

    /**
     * @param bool|null                 $isReady null when it can't be seen yet
     * @param array<string, string|int> $params
     */
    private static function point(
        string $id,
        ?bool $isReady,
        ?string $variant = null,
        array $params = [],
        ?string $app = null,
    ): Point {
        $status = match ($isReady) {
            true => Point::READY, false => Point::TO_DO, null => Point::UNSEEN,
        };

        return new Point($id, $status, $variant ?? $id, $params, $app);
    }
}
