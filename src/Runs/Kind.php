<?php

declare(strict_types=1);

namespace Geschenk\App\Runs;

use Geschenk\App\Entity\Run;
use Geschenk\App\Refusal;
use Geschenk\Core\Hindrance;
use Geschenk\Core\Progress;
use Symfony\Component\DependencyInjection\Attribute\AutoconfigureTag;

/**
 * A kind of run: all that the shop has to know of it, and how it is done. One class, found by being there: whoever
 * draws, estimates, waits for, hands over or undoes runs asks it, and lists no kinds. What it is of it says by which of
 * KindOfMove, KindOfBackup, KindOfCustomer and KindOfShop it is.
 */
#[AutoconfigureTag]
interface Kind
{
    /** At most 20 letters: stored with each run, and in the names of its words, under "run" and "waits". */
    public static function name(): string;

    /**
     * What it takes along where it begins, or goes on; in the caller's transaction.
     *
     * @throws Refusal where that is not enough
     */
    public function take(Run $run, Asked $asked): void;

    /**
     * For the worker: a quick look whether the work can begin.
     *
     * @throws Hindrance
     */
    public function ensurePossible(Run $run): void;

    /** Does the work, or goes on with it. */
    public function do(Run $run, Progress $progress): void;

    /** Removes what the run has done so far; nothing that is in place already. */
    public function undo(Run $run): Undone;
}
