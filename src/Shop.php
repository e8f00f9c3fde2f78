<?php

declare(strict_types=1);

namespace Geschenk\App;

/** What holds for the whole shop. */
final class Shop
{
    /** Days are the shop's days; the interface shows times in the same zone (web/lib/format.ts). */
    public const ZONE = 'Europe/London';
}
