<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\KindOfMove;
use Geschenk\App\Runs\Undone;

/** What is so of most kinds of runs of a move. */
abstract class CommonKind implements KindOfMove
{
    public function goesAcross(): bool
    {
        return true;
    }

    public function isWayBack(): bool
    {
        return false;
    }

    public function stages(): bool
    {
        return false;
    }

    public function next(): ?string
    {
        return null;
    }

    public function ensureItsTurn(Move $move): void
    {
    }

    public function ensureMayBegin(Move $move): void
    {
    }

    public function ensureAgreed(Move $move, Asked $asked): void
    {
    }

    public function take(Run $run, Asked $asked): void
    {
    }

    public function note(Run $run): void
    {
    }

    public function backupId(Run $run): string
    {
        return $run->safetyCopyId();
    }

    public function undo(Run $run): Undone
    {
        return new Undone();
    }
}
