<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Choosing;

use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Move;

/** Whether what was merged with is still what the receiving phone holds. */
final readonly class Merging
{
    public function __construct(private Phones $phones)
    {
    }

    /** As the watch saw the phone last; the worker looks again before it writes. */
    public function isStale(Move $move): bool
    {
        $bringing = $move->bringing();
        $merged = $bringing->rehearsal()['merged_mark'] ?? null;
        if (!$bringing->merges() || null === $merged || $bringing->isInPlace()) {
            return false;
        }
        $seen = $this->phones->holding($move->to()->serial, $move->app)?->mark();

        return null !== $seen && $seen !== $merged;
    }
}
