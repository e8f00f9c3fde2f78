<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunAct;
use Geschenk\App\Entity\StopWish;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\KindOfMove;
use Geschenk\App\Runs\Kinds;
use Geschenk\App\Runs\MoveAt;
use Geschenk\App\Runs\Turns;
use Geschenk\App\Tray\Choosing\BringMore;
use Geschenk\App\Tray\Choosing\Choosing;
use Geschenk\App\Tray\Intake\Labels;
use Geschenk\App\Work\Backup\BackupKind;
use Geschenk\App\Work\Conversion\ConversionKind;
use Geschenk\Core\Conversion\LossRules;
use Geschenk\Core\Conversion\UnknownChoice;

/**
 * Where runs are asked for. Each method is one guarded change: it reads the tray anew, checks that the move is ready,
 * and stores run, note and the message for the worker together.
 */
final readonly class RunDesk
{
    public function __construct(
        private Records $records,
        private EntityManagerInterface $entities,
        private ShopLog $log,
        private Choosing $choosing,
        private Labels $labels,
        private Kinds $kinds,
        private Turns $turns,
        private Guards $guards,
        private NewRuns $newRuns,
    ) {
    }

    /**
     * @param string $kind name of a KindOfMove
     *
     * @throws Refusal
     */
    public function ask(MoveAt $at, string $kind, string $by, Asked $asked = new Asked()): Run
    {
        $what = $this->kinds->find($kind);
        $what instanceof KindOfMove ?: throw Refusal::because('no_such_work');

        return $this->records->changeTray($at->tray, function (Tray $tray) use ($at, $what, $by, $asked): Run {
            $move = $this->openMove($tray, $at->place, $what->isWayBack());
            $this->ensureNewest($move, $at);

            return $this->begin($move, $what, $by, $asked);
        });
    }

    /** @throws Refusal */
    public function convert(MoveAt $at, string $by): Run
    {
        return $this->ask($at, ConversionKind::name(), $by);
    }

    /**
     * Backs up several accounts of a tray: all of them are begun, or none.
     *
     * @param list<array{place: int, offer: string|null, key: string|null, after: string|null}> $accounts
     *
     * @throws Refusal
     */
    public function backUp(int $tray, #[\SensitiveParameter] array $accounts, string $by): void
    {
        [] !== $accounts ?: throw Refusal::because('no_such_move');
        $this->records->change(function () use ($tray, $accounts, $by): void {
            foreach ($accounts as $one) {
                $this->ask(
                    new MoveAt($tray, $one['place'], $one['after']), BackupKind::name(), $by,
                    new Asked(offer: $one['offer'], key: $one['key']),
                );
            }
        });
    }

    /**
     * Chooses what becomes of something that the receiving side can't hold, and has the rehearsal made anew with it.
     *
     * @throws Refusal
     * @throws UnknownChoice
     */
    public function choose(MoveAt $at, string $rule, string $choice, string $by): Run
    {
        LossRules::ensureOffered([$rule => $choice]);

        return $this->records->changeTray($at->tray, function (Tray $tray) use ($at, $rule, $choice, $by): Run {
            $move = $this->openMove($tray, $at->place);
            $this->ensureNewest($move, $at);
            if ($move->bringing()->isInPlace()) {
                throw Refusal::because('choice_after_restore');
            }
            $move->bringing()->choose($rule, $choice);
            $this->log->noteWithFlush($by, 'chose', $tray->number, [
                'rule' => sprintf('@loss.%s.sentence', $rule), 'choice' => sprintf('@loss.%s.%s', $rule, $choice),
                'edition' => $move->edition,
            ]);

            return $this->begin($move, $this->kinds->ofMove(ConversionKind::name()), $by);
        });
    }

    /**
     * Brings what a check found missing: merged with what is there, rehearsed first like every merge.
     *
     * @throws Refusal
     */
    public function bringMissing(MoveAt $at, string $by): Run
    {
        return $this->records->changeTray($at->tray, function (Tray $tray) use ($at, $by): Run {
            $move = $this->openMove($tray, $at->place);
            $this->ensureNewest($move, $at);
            BringMore::ensureMissing($move);
            $move->bringMissing();
            $this->log->noteWithFlush($by, 'bring_missing', $tray->number, ['edition' => $move->edition]);

            return $this->begin($move, $this->kinds->ofMove(ConversionKind::name()), $by);
        });
    }

    /**
     * Brings what a trial left for later: merged with what it has brought, rehearsed first like every merge.
     *
     * @throws Refusal
     */
    public function bringRest(MoveAt $at, string $by): Run
    {
        // Counted before: it may take seconds, and nobody else could change anything meanwhile.
        $counted = $this->entities->getRepository(Tray::class)->findOneBy(['number' => $at->tray])?->move($at->place)
            ?? throw Refusal::because('no_such_move');
        BringMore::ensureRest($counted);
        $before = $counted->bringing()->scope();
        [$scope, $brings] = $this->choosing->rest($counted);
        $change = function (Tray $tray) use ($at, $by, $before, $scope, $brings): Run {
            $move = $this->openMove($tray, $at->place);
            $this->ensureNewest($move, $at);
            BringMore::ensureRest($move);
            if ($move->bringing()->scope() !== $before) {
                throw Refusal::because('busy', ['edition' => $move->edition]);
            }
            $move->bringRest($scope->isAll() ? null : $scope->toArray(), $brings);
            $this->log->noteWithFlush($by, 'bring_rest', $tray->number, ['edition' => $move->edition]);

            return $this->begin($move, $this->kinds->ofMove(ConversionKind::name()), $by);
        };

        return $this->records->changeTray($at->tray, $change);
    }

    /** @throws Refusal when it is not a run that stands still */
    public function goOn(
        int $tray,
        int $place,
        string $runId,
        string $by,
        #[\SensitiveParameter] ?string $key = null,
    ): void {
        $this->records->changeTray($tray, function (Tray $tray) use ($place, $runId, $by, $key): void {
            $move = $this->openMove($tray, $place, true);
            $run = $this->latest($move, $runId);
            if (!$run->may(RunAct::GoOn)) {
                throw Refusal::because('run_not_standing');
            }
            $this->guards->ensureNobodyElseHas($tray, $run->serial() ?? '');
            $kind = $this->kinds->ofMove($run->kind);
            $kind->take($run, new Asked(key: $key));
            $run->goOn($by, $kind->phone($move));
            $this->newRuns->note($run, RunAct::GoOn->logged(), $by);
            $this->newRuns->handOut($run);
        });
    }

    /**
     * Has a run rest: at once where it waits, at its next step where it works. What it has done so far stays, and it
     * can go on later.
     *
     * @throws Refusal when it rests already
     */
    public function pause(int $tray, int $place, string $runId, string $by): void
    {
        $this->records->changeTray($tray, function (Tray $tray) use ($place, $runId, $by): void {
            $move = $this->openMove($tray, $place, true);
            $run = $this->latest($move, $runId);
            if (!$run->may(RunAct::Pause)) {
                throw Refusal::because('run_over');
            }
            $run->stop(StopWish::Pause, $by);
            $this->newRuns->note($run, RunAct::Pause->logged(), $by);
        });
    }

    /**
     * Ends a run and has a worker remove what it has done so far.
     *
     * @throws Refusal when it is over already
     */
    public function cancel(int $tray, int $place, string $runId, string $by): void
    {
        $this->records->changeTray($tray, function (Tray $tray) use ($place, $runId, $by): void {
            $move = $this->openMove($tray, $place, true);
            $run = $this->latest($move, $runId);
            if (!$run->may(RunAct::Cancel)) {
                throw Refusal::because('run_over');
            }
            $run->stop(StopWish::Cancel, $by);
            $this->newRuns->note($run, RunAct::Cancel->logged(), $by);
            $this->newRuns->handOut($run);
        });
    }

    /** @throws Refusal */
    private function ensureNewest(Move $move, MoveAt $at): void
    {
        if (!$move->isStill($at->after)) {
            throw Refusal::because('meanwhile', ['edition' => $move->edition]);
        }
    }

    private function begin(Move $move, KindOfMove $kind, string $by, Asked $asked = new Asked()): Run
    {
        $this->turns->ensureItsTurn($move, $kind);
        if (null !== $asked->confirmedTag && $kind->goesAcross()) {
            $asked = $asked->withTag($this->labels->read($move->to(), $asked->confirmedTag));
        }
        $kind->ensureMayBegin($move);
        $kind->ensureAgreed($move, $asked);
        $run = $this->newRuns->make($move, $kind, $by, $asked);
        $kind->take($run, $asked);
        $kind->note($run);
        $this->newRuns->note($run, 'asked', $by);
        $this->newRuns->handOut($run);

        return $run;
    }

    /** @param bool $mayBeClosed for what can be done behind the hand-over too */
    private function openMove(Tray $tray, int $place, bool $mayBeClosed = false): Move
    {
        $move = $tray->move($place) ?? throw Refusal::because('no_such_move');
        if (null !== $tray->closedAt() && !$mayBeClosed) {
            throw Refusal::because('tray_closed');
        }
        if ($move->isLeftOut()) {
            throw Refusal::because('move_left_out', ['edition' => $move->edition]);
        }

        return $move;
    }

    /** A run of earlier days can neither go on nor be stopped: what came after it counts. */
    private function latest(Move $move, string $runId): Run
    {
        $run = $move->run();

        if ($run?->id !== $runId) {
            throw Refusal::because('run_over');
        }
        // Behind the hand-over nothing goes on but the way back.
        if (null !== $move->tray->closedAt() && !$this->kinds->ofMove($run->kind)->isWayBack()) {
            throw Refusal::because('tray_closed');
        }
        if (!$move->tray->keepsChats()) {
            throw Refusal::because('erased_already');
        }

        return $run;
    }
}
