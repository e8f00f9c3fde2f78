<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Choosing;

use Geschenk\App\Entity\Check;
use Geschenk\App\Entity\Move;
use Geschenk\App\Refusal;
use Geschenk\Core\Arrival\Totals;

/** When more is brought behind a check: what a trial left for later, or what did not arrive. */
final class BringMore
{
    /** @throws Refusal */
    public static function ensureRest(Move $move): void
    {
        if (null === $move->tray->closedAt() && !$move->bringing()->isTrial()) {
            throw Refusal::because('no_trial', ['edition' => $move->edition]);
        }
        self::ensureChecked($move);
        self::ensureIdle($move);
    }

    /** @throws Refusal */
    public static function ensureMissing(Move $move): void
    {
        $check = self::ensureChecked($move);
        self::ensureIdle($move);
        // What is too many can't be brought.
        if (!Totals::of($check->totals())->lacksSomething()) {
            throw Refusal::because('nothing_missing');
        }
    }

    /** @throws Refusal */
    public static function ensureIdle(Move $move): void
    {
        if ($move->isBusy()) {
            throw Refusal::because('busy', ['edition' => $move->edition]);
        }
    }

    /** @throws Refusal */
    public static function ensureChecked(Move $move): Check
    {
        if (null !== $move->tray->closedAt()) {
            throw Refusal::because('tray_closed');
        }
        $bringing = $move->bringing();
        $check = $bringing->isInPlace() ? $bringing->check() : null;
        if (null === $check) {
            throw Refusal::because('nothing_checked');
        }

        return $check;
    }
}
