<?php

declare(strict_types=1);

namespace Geschenk\App\Runs;

use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\App\Refusal;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Progress;
use Geschenk\Core\Transfer\RestoreRefused;
use Symfony\Component\DependencyInjection\Attribute\AutoconfigureTag;

/**
 * A kind of run: all that the shop has to know of it, and how it is done. One class, found by being there: whoever
 * draws, estimates, waits for, hands over or undoes runs asks it, and lists no kinds.
 */
#[AutoconfigureTag]
interface Kind
{
    /** At most 20 letters: stored with each run, and in the names of its words, under "run" and "waits". */
    public static function name(): string;

    /** Where a move stands while it is at it. */
    public function stage(): Stage;

    /** The phone that it is at, by the roles that phones have at this moment; null when it is at none. */
    public function phone(Move $move): ?TrayPhone;

    /** @return list<Phase> those that take time, in their order */
    public function phases(Move $move): array;

    /** Whether it has to do with a second phone: chats that are only backed up want none of it. */
    public function goesAcross(): bool;

    /** Whether it undoes what was brought: that can be asked for behind the hand-over too, and goes on there. */
    public function isWayBack(): bool;

    /** Whether it stages something on a phone, that lies there until it is swapped in or removed. */
    public function stages(): bool;

    /** Name of the kind that follows by itself. */
    public function next(): ?string;

    /**
     * Whether the move has come to where it is asked for, as far as its own records tell.
     *
     * @throws Refusal
     * @throws RestoreRefused
     */
    public function ensureItsTurn(Move $move): void;

    /**
     * Whether it may begin, where it is its turn, as far as is known of the phones: an early no, for the worker looks
     * again.
     *
     * @throws Refusal
     * @throws RestoreRefused
     */
    public function ensureMayBegin(Move $move): void;

    /**
     * Whether somebody has agreed to what it does that can't be undone, as it was shown to them.
     *
     * @throws RestoreRefused
     */
    public function ensureAgreed(Move $move, Asked $asked): void;

    /**
     * What it takes along where it begins, or goes on; in the caller's transaction.
     *
     * @throws Refusal where that is not enough
     */
    public function take(Run $run, Asked $asked): void;

    /** Notes on the run sheet what the request itself proves; in the caller's transaction. */
    public function note(Run $run): void;

    /** Id of the backup that it makes on its way: what lies half done under that is its own. */
    public function backupId(Run $run): string;

    /**
     * For the worker: a quick look whether the work can begin.
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    public function ensurePossible(Run $run): void;

    /** Does the work, or goes on with it. */
    public function do(Run $run, Progress $progress): void;

    /** Removes what the run has done so far; nothing that is in place already. */
    public function undo(Run $run): Undone;
}
