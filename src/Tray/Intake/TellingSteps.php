<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Intake;

use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\StepTold;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Runs\MoveAt;
use Geschenk\App\Tray\Standing\TrayReadiness;
use Psr\Clock\ClockInterface;

/** What no phone shows is told by a person: that a step of a way in is done, that it was not, that it is undone. */
final readonly class TellingSteps
{
    public function __construct(
        private Records $records,
        private TrayReadiness $readiness,
        private ShopLog $log,
        private ClockInterface $clock,
    ) {
    }

    /** @throws Refusal where no way of the account has such a step */
    public function tell(MoveAt $at, string $step, string $by): void
    {
        $this->change($at, function (Move $move) use ($step, $by): void {
            $asked = $this->readiness->toldSteps($move)[$step] ?? throw Refusal::because('no_such_step');
            if (null === self::find($move, $step)) {
                $move->tell(new StepTold($move, $step, $asked->isLeft, $this->clock->now(), $by));
                $this->note($move, 'step_told', $step, $by);
            }
        });
    }

    /** @throws Refusal where nobody has told it, or it was made use of: what it left is undone then, not forgotten */
    public function takeBack(MoveAt $at, string $step, string $by): void
    {
        $this->change($at, function (Move $move) use ($step, $by): void {
            $told = self::find($move, $step) ?? throw Refusal::because('no_such_step');
            if ($told->isLeft && null !== $move->backup()) {
                throw Refusal::because('step_was_used', ['tag' => $move->from()->tag]);
            }
            $move->takeBack($told);
            $this->note($move, 'step_taken_back', $step, $by);
        });
    }

    /** @throws Refusal where nobody has told it */
    public function undone(MoveAt $at, string $step, string $by): void
    {
        $this->change($at, function (Move $move) use ($step, $by): void {
            $told = self::find($move, $step) ?? throw Refusal::because('no_such_step');
            if ($told->isOpen()) {
                $told->isUndone($this->clock->now());
                $this->note($move, 'step_undone', $step, $by);
            }
        });
    }

    /** @param callable(Move): void $change */
    private function change(MoveAt $at, callable $change): void
    {
        $this->records->changeTray($at->tray, static function (Tray $tray) use ($at, $change): void {
            $move = $tray->move($at->place) ?? throw Refusal::because('no_such_move');
            if (null !== $tray->closedAt()) {
                throw Refusal::because('tray_closed');
            }
            if ($move->isBusy()) {
                throw Refusal::because('busy', ['edition' => $move->edition]);
            }
            $change($move);
        });
    }

    private function note(Move $move, string $act, string $step, string $by): void
    {
        $this->log->noteWithFlush($by, $act, $move->tray->number, [
            'step' => "@point.$step.what", 'edition' => $move->edition,
        ]);
    }

    private static function find(Move $move, string $step): ?StepTold
    {
        foreach ($move->told() as $told) {
            if ($told->step === $step) {
                return $told;
            }
        }

        return null;
    }
}
