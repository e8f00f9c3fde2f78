<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

use Geschenk\Core\Chat\Times;

/** Seconds since 2001-01-01 UTC as floating point, against milliseconds since 1970-01-01 UTC as a whole number. */
final class Since2001
{
    /** Seconds from 1970-01-01 to 2001-01-01. */
    private const OFFSET = 978_307_200;
    /** Milliseconds around 1970 within which a double of seconds keeps every millisecond there and back. */
    public const EXACT_MS = 2_000_000_000_000_000;
    /** Milliseconds; from here on doubles are whole numbers and rounding would change them. */
    private const WHOLE = 4_503_599_627_370_496.0;

    /** Seconds in decimal digits, which read as a floating point number are those of toSeconds(). */
    public static function toDecimal(int $milliseconds): string
    {
        // Whole numbers throughout: Times::LIMIT leaves room for the years between the two beginnings.
        $since = $milliseconds - self::OFFSET * 1000;
        if ($since >= 1000) {
            return substr_replace((string) $since, '.', -3, 0);
        }
        $digits = str_pad((string) abs($since), 4, '0', \STR_PAD_LEFT);

        return ($since < 0 ? '-' : '').substr($digits, 0, -3).'.'.substr($digits, -3);
    }

    /** toMilliseconds() as SQL. */
    public static function sqlToMilliseconds(string $column): string
    {
        return sprintf('CAST(round(%s * 1000.0) AS INTEGER) + %d', $column, self::OFFSET * 1000);
    }

    /** toSeconds() as SQL. */
    public static function sqlToSeconds(string $column): string
    {
        return sprintf('(%s - %d) / 1000.0', $column, self::OFFSET * 1000);
    }

    public static function toSeconds(?int $milliseconds): ?float
    {
        return null === $milliseconds ? null : ($milliseconds - self::OFFSET * 1000) / 1000.0;
    }

    /**
     * @param float|null $seconds how long something takes
     *
     * @return int|null milliseconds
     *
     * @throws \UnexpectedValueException for what is no length of time
     */
    public static function lengthOf(?float $seconds): ?int
    {
        $milliseconds = self::toMilliseconds($seconds);

        return null === $milliseconds ? null : $milliseconds - self::OFFSET * 1000;
    }

    /**
     * Exact to the millisecond within EXACT_MS of 1970; halves are rounded away from zero.
     *
     * @throws \UnexpectedValueException for what is no time in any calendar
     */
    public static function toMilliseconds(?float $seconds): ?int
    {
        if (null === $seconds) {
            return null;
        }
        if (!(abs($seconds) * 1000.0 < Times::LIMIT)) {
            throw new \UnexpectedValueException(sprintf('%g is no time in seconds', $seconds));
        }

        $milliseconds = $seconds * 1000.0;
        if (abs($milliseconds) >= self::WHOLE) {
            return (int) $milliseconds + self::OFFSET * 1000;
        }

        // As SQLite's round() does it, which PHP's does not.
        return (int) ($milliseconds + ($milliseconds < 0 ? -0.5 : 0.5)) + self::OFFSET * 1000;
    }
}
