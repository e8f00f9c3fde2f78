<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/** Whether work on a phone can begin or go on, and if not, what exactly is in the way. */
final class Fitness
{
    /**
     * Nothing is written to a messenger, and nothing of it checked, while a number is half registered in it.
     *
     * @throws PhoneRefuses
     */
    public static function ensureSettled(PhoneState $phone, string $app): void
    {
        $state = $phone->app($app);
        if (null !== $state?->signUp) {
            throw PhoneRefuses::signingUp($state->name);
        }
    }

    /** Percent of battery with which work that was stopped goes on, and below which it stops. */
    public const GOES_ON_AT = 10;
    public const STOPS_BELOW = 5;

    /**
     * @param int        $battery percent that are needed
     * @param float|null $since   seconds since somebody was last at work on it
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    public static function ensure(PhoneState $phone, int $battery, ?float $since = null): void
    {
        if (!$phone->plugged) {
            throw PhoneUnplugged::of($phone->serial);
        }
        if (false === $phone->debugging) {
            throw PhoneRefuses::debuggingOff();
        }
        if (!$phone->admitted) {
            throw PhoneRefuses::notAllowed();
        }
        if (!$phone->unlocked) {
            $isRestarted = null !== $since && null !== $phone->upFor && $phone->upFor < $since;
            throw $isRestarted ? PhoneRefuses::restarted() : PhoneRefuses::locked();
        }
        if (null !== $phone->battery && $phone->battery < $battery) {
            throw PhoneRefuses::batteryLow($phone->battery, self::GOES_ON_AT);
        }
    }
}
