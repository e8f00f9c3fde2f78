<?php

declare(strict_types=1);

namespace Geschenk\App;

/** What holds for the whole shop. */
final class Shop
{
    /** Days are the shop's days; the interface shows times in the same zone (web/lib/format.ts). */
    public const ZONE = 'Europe/London';

    /** Days for which the shop keeps backups behind the hand-over, where nothing else is said. */
    public const KEEP_DAYS = 30;
    /** The same where a safety copy holds what could not be read of the phone: nobody else has it. */
    public const KEEP_DAYS_DAMAGED = 180;
    /** Days that can be said at most. */
    public const KEEP_DAYS_MOST = 365;
    /** Days for which a customer is known of whom nothing is kept: that long somebody may ask what became of a job. */
    public const FORGET_DAYS = 180;
    /** Days for which a copy of the records stays that was made before an update. */
    public const COPY_DAYS = 30;
    /** Characters of what is written beside a backup. */
    public const LONGEST_NOTE = 500;

    /** The beginning of a day in the shop; null for what is no day, written YYYY-MM-DD. */
    public static function day(string $day): ?\DateTimeImmutable
    {
        $begin = \DateTimeImmutable::createFromFormat('!Y-m-d', $day, new \DateTimeZone(self::ZONE));

        return false !== $begin && $begin->format('Y-m-d') === $day ? $begin : null;
    }
}
