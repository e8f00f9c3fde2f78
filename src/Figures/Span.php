<?php

declare(strict_types=1);

namespace Geschenk\App\Figures;

use Geschenk\App\Shop;

/** Whole months of the shop, up to the one that it is in. */
final readonly class Span
{
    public const MONTHS_MOST = 120;

    private function __construct(public \DateTimeImmutable $from, public \DateTimeImmutable $until)
    {
    }

    /** @param int $months the present one and those before it; at least 1, at most MONTHS_MOST */
    public static function ofMonths(int $months, \DateTimeImmutable $now): self
    {
        $begin = $now->setTimezone(new \DateTimeZone(Shop::ZONE))->modify('first day of this month midnight');
        $count = max(1, min(self::MONTHS_MOST, $months));

        return new self(
            $begin->modify(sprintf('-%d months', $count - 1)), $begin->modify('+1 month'),
        );
    }

    /** @return list<string> each YYYY-MM, the first first */
    public function months(): array
    {
        $months = [];
        for ($at = $this->from; $at < $this->until; $at = $at->modify('+1 month')) {
            $months[] = $at->format('Y-m');
        }

        return $months;
    }
}
