<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

/** What a number of milliseconds since 1970 UTC can be. */
final class Times
{
    /** Some 126 million years: what lies beyond is no time, and sums of it would leave PHP's whole numbers. */
    public const LIMIT = 4_000_000_000_000_000_000;

    /** Some 31,000 years: what is nearer needs no second look by anybody. */
    public const NEAR = 999_999_999_999_999;

    public static function areNear(?int ...$times): bool
    {
        foreach ($times as $time) {
            if (null !== $time && ($time > self::NEAR || $time < -self::NEAR)) {
                return false;
            }
        }

        return true;
    }

    public static function areTimes(?int ...$times): bool
    {
        foreach ($times as $time) {
            if (null !== $time && ($time > self::LIMIT || $time < -self::LIMIT)) {
                return false;
            }
        }

        return true;
    }

    /** SQL that is true where a column holds a near time or nothing. */
    public static function sqlIsNear(string $column): string
    {
        return sprintf('(%1$s IS NULL OR (%1$s <= %2$d AND %1$s >= -%2$d))', $column, self::NEAR);
    }
}
