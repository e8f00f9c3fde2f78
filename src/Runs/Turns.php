<?php

declare(strict_types=1);

namespace Geschenk\App\Runs;

use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\RunAct;
use Geschenk\App\Refusal;
use Geschenk\Core\Failure;
use Geschenk\Core\Phone\Role;

/** Whose turn it is: which kinds of runs may be asked for of a move. The desk and the page go by it. */
final readonly class Turns
{
    public function __construct(private Kinds $kinds)
    {
    }

    /**
     * What may be asked for of a move, and, where it would be refused for what is seen of a phone now, why.
     *
     * @param list<RunAct> $ofRun what may be done about the move's newest run
     *
     * @return array<string, Failure|null> by the name of the kind; without those whose turn it is not
     */
    public function of(Move $move, array $ofRun): array
    {
        $turns = [];
        foreach (in_array(RunAct::GoOn, $ofRun, true) ? [] : $this->kinds->ofMoves() as $kind) {
            try {
                $this->ensureItsTurn($move, $kind);
            } catch (Failure) {
                continue;
            }
            try {
                $kind->ensureMayBegin($move);
                $turns[$kind::name()] = null;
            } catch (Failure $why) {
                $turns[$kind::name()] = $why;
            }
        }

        return $turns;
    }

    /**
     * As far as the records tell.
     *
     * @throws Failure
     */
    public function ensureItsTurn(Move $move, KindOfMove $kind): void
    {
        if (null !== $move->tray->closedAt() && !$kind->isWayBack()) {
            throw Refusal::because('tray_closed');
        }
        if ($move->isLeftOut()) {
            throw Refusal::because('move_left_out', ['edition' => $move->edition]);
        }
        if ($move->isBusy()) {
            throw Refusal::because('busy', ['edition' => $move->edition]);
        }
        if (!$kind->goesAcross() && !$move->tray->has(Role::Gives)) {
            throw Refusal::because('nothing_gives');
        }
        if ($kind->goesAcross() && $move->tray->onlyBacksUp()) {
            throw Refusal::because('only_backs_up');
        }
        $kind->ensureItsTurn($move);
    }
}
