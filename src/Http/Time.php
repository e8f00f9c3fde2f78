<?php

declare(strict_types=1);

namespace Geschenk\App\Http;

use Geschenk\Core\Chat\Times;

/** Times as they leave the house: ISO 8601, UTC, milliseconds. */
final class Time
{
    private const FORMAT = 'Y-m-d\TH:i:s.v\Z';

    public static function iso(\DateTimeInterface $time): string
    {
        return \DateTimeImmutable::createFromInterface($time)->setTimezone(
            new \DateTimeZone('UTC'),
        )->format(self::FORMAT);
    }

    public static function isoOrNull(?\DateTimeInterface $time): ?string
    {
        return null === $time ? null : self::iso($time);
    }

    /** @param \DateTimeImmutable|null $until the moment after it */
    public static function lastDay(?\DateTimeImmutable $until): ?string
    {
        return null === $until ? null : self::iso($until->modify('-1 second'));
    }

    /** @param int|null $seconds since 1970 UTC */
    public static function ofSeconds(?int $seconds): ?string
    {
        return null === $seconds ? null : self::ofMilliseconds($seconds * 1000);
    }

    /** @param int|null $milliseconds since 1970 UTC; may be negative */
    public static function ofMilliseconds(?int $milliseconds): ?string
    {
        if (null === $milliseconds) {
            return null;
        }
        $milliseconds = max(-Times::LIMIT, min($milliseconds, Times::LIMIT));
        $seconds = intdiv($milliseconds - (($milliseconds % 1000 + 1000) % 1000), 1000);
        // Years beyond four digits can't be written in this format; such a time is shown as the last one that can.
        $seconds = max(-62_135_596_800, min($seconds, 253_402_300_799));

        return gmdate('Y-m-d\TH:i:s', $seconds).sprintf('.%03dZ', ($milliseconds % 1000 + 1000) % 1000);
    }
}
