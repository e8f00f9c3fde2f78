<?php

declare(strict_types=1);

namespace Geschenk\App\Runs;

use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\App\Refusal;
use Geschenk\Core\Transfer\RestoreRefused;

/** One that is of a move: at a stage of it, and mostly at one of its phones. */
interface KindOfMove extends Kind
{
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

    /** Notes on the run sheet what the request itself proves; in the caller's transaction. */
    public function note(Run $run): void;

    /** Id of the backup that it makes on its way: what lies half done under that is its own. */
    public function backupId(Run $run): string;
}
