<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Ios;

/** Seconds since 2001-01-01 UTC as floating point, against milliseconds since 1970-01-01 UTC as a whole number. */
final class Clock
{
    /** Seconds from 1970-01-01 to 2001-01-01. */
    private const OFFSET = 978_307_200;

    public static function toSeconds(?int $milliseconds): ?float
    {
        return null === $milliseconds ? null : ($milliseconds - self::OFFSET * 1000) / 1000.0;
    }

    /** Exact to the millisecond for every time within 10,000 years of 2001. */
    public static function toMilliseconds(?float $seconds): ?int
    {
        return null === $seconds ? null : (int) round($seconds * 1000.0) + self::OFFSET * 1000;
    }
}
