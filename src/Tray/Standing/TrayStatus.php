<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Standing;

use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunAct;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Runs\Kinds;
use Geschenk\App\Runs\Turns;
use Geschenk\App\Tray\Choosing\Behind;
use Geschenk\App\Tray\Choosing\Merging;
use Geschenk\App\Tray\Intake\DirectionDoubt;
use Geschenk\Core\Failure;
use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Role;

/** Where a tray and each of its moves stand, and what they wait for: told by the records, and by no file or phone. */
final readonly class TrayStatus
{
    public function __construct(
        private TrayReadiness $readiness,
        private DirectionDoubt $doubt,
        private Phones $phones,
        private Behind $behind,
        private Merging $merging,
        private Kinds $kinds,
        private Turns $turns,
    ) {
    }

    public function stage(Tray $tray): Stage
    {
        if (null !== $tray->closedAt()) {
            return Stage::HandOver;
        }
        $lead = $this->leading($tray);
        if (null === $lead) {
            return [] === $tray->moves() ? Stage::Ready : Stage::HandOver;
        }

        return $this->hasBegun($tray) ? $this->moveStage($lead) : Stage::Ready;
    }

    /** Whether anything was done yet; what is kept was backed up once, and begins where its phone is ready. */
    private function hasBegun(Tray $tray): bool
    {
        foreach ($tray->moves() as $move) {
            if (null !== $move->run() || ($tray->has(Role::Gives) && null !== $move->backup())) {
                return true;
            }
        }

        return !$tray->has(Role::Gives) && null === $this->readiness->lackingOf($tray);
    }

    /** One of the five stages of a move, or the hand-over when all of it has arrived. */
    public function moveStage(Move $move): Stage
    {
        $run = $move->run();
        if (null !== $run && !$run->state()->isOver()) {
            return $this->kinds->ofMove($run->kind)->stage();
        }

        $bringing = $move->bringing();

        return match (true) {
            $move->isDone() => Stage::HandOver,
            $bringing->isInPlace() => Stage::Check,
            null === $move->backup() => Stage::BackUp,
            null === $bringing->rehearsal() => Stage::Choose,
            default => $bringing->isRehearsed() && !$this->merging->isStale($move) ? Stage::Restore : Stage::Convert,
        };
    }

    public function waits(Tray $tray): Waits
    {
        if (null !== $tray->closedAt()) {
            return $this->waitsBehindHandOver($tray);
        }
        $lead = $this->leading($tray);
        if (null !== $lead) {
            $isReady = Stage::Ready !== $this->stage($tray);

            return $isReady ? $this->moveWaits($lead) : $this->waitsForReadiness($tray);
        }

        return [] === $tray->moves()
            ? $this->waitsForReadiness($tray)
            : new Waits(
                Waits::PERSON, Waits::TECHNICIAN, null, $tray->onlyBacksUp() ? 'all_backed_up' : 'all_arrived',
            );
    }

    /** The way back stays open: a phone may be put back then. */
    private function waitsBehindHandOver(Tray $tray): Waits
    {
        foreach ($tray->moves() as $move) {
            $run = $move->run();
            if (null !== $run && !$run->state()->isOver()) {
                return $this->waitsForRun($move, $run);
            }
        }

        return new Waits(Waits::NOBODY, null, null, 'handed_over');
    }

    public function moveWaits(Move $move): Waits
    {
        $run = $move->run();
        if (null !== $run && !$run->state()->isOver()) {
            return $this->waitsForRun($move, $run);
        }

        $bringing = $move->bringing();

        return match ($this->moveStage($move)) {
            Stage::BackUp => $this->waitsForBackup($move),
            Stage::Choose => $this->waitsForChoice($move),
            Stage::Convert => $bringing->isRehearsed()
                ? self::forTechnician($move, $move->to()->tag, 'merge_stale')
                : self::forTechnician($move, null, 'does_not_tally'),
            Stage::Restore => $this->waitsForRestore($move),
            Stage::Check => null === $bringing->check()
                ? self::forTechnician($move, $move->to()->tag, 'check')
                : ($bringing->isTrial() && $bringing->check()->isComplete()
                    ? self::forTechnician($move, $move->to()->tag, 'trial_arrived')
                    : self::forTechnician($move, $move->to()->tag, ...self::differences($move))),
            default => new Waits(
                Waits::NOBODY, null, null, $move->tray->onlyBacksUp() ? 'backed_up' : 'arrived', null,
                ['edition' => $move->edition], $move,
            ),
        };
    }

    /**
     * The move that is next: the first that waits for a person, else the first that the machine is at; null when all
     * have arrived, or there is none.
     */
    public function leading(Tray $tray): ?Move
    {
        $machine = null;
        foreach ($tray->moves() as $move) {
            $for = $this->moveWaits($move)->for;
            if (Waits::PERSON === $for) {
                return $move;
            }
            $machine ??= Waits::MACHINE === $for ? $move : null;
        }

        return $machine;
    }

    /** @param array<string, int> $params */
    private static function forTechnician(Move $move, ?string $tag, string $key, array $params = []): Waits
    {
        $params += ['edition' => $move->edition];

        return new Waits(Waits::PERSON, Waits::TECHNICIAN, $tag, $key, null, $params, $move);
    }

    /** @return list<RunAct> what may be done about a run: behind the hand-over only the way back is anybody's affair */
    public function may(Run $run): array
    {
        $tray = $run->move()->tray;
        $isOpen = null === $tray->closedAt() || $this->kinds->ofMove($run->kind)->isWayBack();
        if (!$isOpen || !$tray->keepsChats() || !$run->isNewest()) {
            return [];
        }

        $acts = array_values(array_filter(RunAct::cases(), $run->may(...)));
        // What was merged with is another by now: it is merged anew, and not gone on with.
        $isStale = $this->kinds->ofMove($run->kind)->stages() && $this->merging->isStale($run->move());

        return $isStale ? array_values(array_filter($acts, static fn (RunAct $a): bool => RunAct::GoOn !== $a)) : $acts;
    }

    /** @return array<string, Failure|null> as Turns::of() */
    public function turns(Move $move): array
    {
        $run = $move->run();

        return $this->turns->of($move, null === $run ? [] : $this->may($run));
    }

    private function waitsForRun(Move $move, Run $run): Waits
    {
        $tag = $run->phone()?->tag;
        $kind = $run->kind;
        $params = ['edition' => $move->edition, 'tag' => $tag ?? ''];
        $trouble = null === $run->trouble() ? null : 'failure.'.$run->trouble();
        $params += $run->troubleParams();

        return match ($run->state()) {
            RunState::Waiting => new Waits(
                Waits::PERSON, Waits::CUSTOMER, $tag, $kind.'_interrupted', $trouble, $params, $move, $run,
            ),
            RunState::Failed => new Waits(
                Waits::PERSON, Waits::TECHNICIAN, $tag, $kind.'_stopped', $trouble, $params, $move, $run,
            ),
            RunState::Paused => new Waits(
                Waits::PERSON, Waits::TECHNICIAN, $tag, $kind.'_paused', $trouble, $params, $move, $run,
            ),
            RunState::Cancelling => new Waits(Waits::MACHINE, null, $tag, $kind.'_undone', null, $params, $move, $run),
            RunState::Queued => new Waits(Waits::MACHINE, null, $tag, $kind.'_queued', null, $params, $move, $run),
            default => new Waits(Waits::MACHINE, null, $tag, $kind.'_working', null, $params, $move, $run),
        };
    }

    private function waitsForReadiness(Tray $tray): Waits
    {
        $doubt = $this->doubt->of($tray);
        // Before anything is asked of a phone that may have been given the wrong role.
        if (DirectionDoubt::GIVES_NOTHING === ($doubt['key'] ?? null)) {
            return self::waitsForDirection($doubt);
        }
        $lacking = $this->readiness->lackingOf($tray);
        if (null !== $lacking && !$this->readiness->mayBackUp($tray)) {
            return self::waitsForPoint($lacking, null);
        }
        if ([] === $tray->moves()) {
            $tag = ($tray->phones()[0] ?? null)?->tag;

            return new Waits(Waits::PERSON, Waits::TECHNICIAN, $tag, 'no_account', 'waits.no_account_how');
        }
        if (DirectionDoubt::RECEIVES_MORE === ($doubt['key'] ?? null)) {
            return self::waitsForDirection($doubt);
        }

        $key = $tray->onlyBacksUp() || null !== $lacking ? 'ready_one' : 'ready';

        return new Waits(Waits::PERSON, Waits::TECHNICIAN, $tray->moves()[0]->from()->tag, $key);
    }

    /** @param array{key: string, tag: string, params: array<string, string|int>} $doubt */
    private static function waitsForDirection(array $doubt): Waits
    {
        return new Waits(
            Waits::PERSON, Waits::TECHNICIAN, $doubt['tag'], 'swapped', $doubt['key'], $doubt['params'],
        );
    }

    private function waitsForChoice(Move $move): Waits
    {
        $newest = $this->behind->newestOnPhone($move);
        $params = ['edition' => $move->edition] + (null === $newest ? [] : ['newest_at' => intdiv($newest, 1000)]);
        $how = null === $newest ? null : 'waits.choose_behind';

        return new Waits(Waits::PERSON, Waits::TECHNICIAN, null, 'choose', $how, $params, $move);
    }

    private function waitsForBackup(Move $move): Waits
    {
        $lacking = $this->readiness->lacking($move);
        $params = ['edition' => $move->edition];

        return null === $lacking
            ? new Waits(Waits::PERSON, Waits::TECHNICIAN, $move->from()->tag, 'back_up', null, $params, $move)
            : self::waitsForPoint($lacking, $move);
    }

    private static function waitsForPoint(LackingPoint $lacking, ?Move $move): Waits
    {
        $point = $lacking->point;
        $who = Point::TECHNICIAN === $point->who ? Waits::TECHNICIAN : Waits::CUSTOMER;
        $words = 'point.'.$point->variant;

        return new Waits(
            Waits::PERSON, $who, $lacking->phone->tag, '@'.$words.'.short', $words.'.how', $point->params, $move,
        );
    }

    private function waitsForRestore(Move $move): Waits
    {
        $receiving = $move->to();
        $holding = $this->phones->holding($receiving->serial, $move->app);
        $counts = $holding?->counts();
        $params = ['edition' => $move->edition];
        if (true !== $this->phones->state($receiving->serial)?->isOpen()) {
            $how = 'failure.not_allowed';

            return new Waits(
                Waits::PERSON, Waits::CUSTOMER, $receiving->tag, 'unreadable', $how, $params, $move,
            );
        }
        if (null === $counts) {
            $trouble = $holding?->trouble();
            if (null === $trouble) {
                return new Waits(Waits::MACHINE, null, $receiving->tag, 'looking', null, $params, $move);
            }
            $params += $holding->troubleParams();

            return new Waits(
                Waits::PERSON, Waits::CUSTOMER, $receiving->tag, 'unreadable', 'failure.'.$trouble, $params, $move,
            );
        }
        $lacking = $this->readiness->lackingToRestore($move);
        if (null !== $lacking) {
            return self::waitsForPoint($lacking, $move);
        }
        if ($counts['messages'] > 0 && $move->bringing()->merges()) {
            return new Waits(Waits::PERSON, Waits::TECHNICIAN, $receiving->tag, 'merge', null, $params, $move);
        }
        if ($counts['messages'] > 0) {
            $params += ['conversations' => $counts['conversations'], 'messages' => $counts['messages']];

            return new Waits(
                Waits::PERSON, Waits::TECHNICIAN, $receiving->tag, 'holds_chats', 'waits.holds_chats_how', $params,
                $move,
            );
        }

        return new Waits(Waits::PERSON, Waits::TECHNICIAN, $receiving->tag, 'restore', null, $params, $move);
    }

    /** @return array{string, array<string, int>} */
    private static function differences(Move $move): array
    {
        $totals = $move->bringing()->check()?->totals() ?? throw new \LogicException('Nothing was checked.');

        return match (true) {
            $totals['missing'] > 0 => ['missing', ['count' => $totals['missing']]],
            $totals['extra'] > 0 => ['extra', ['count' => $totals['extra']]],
            default => ['settings', ['count' => max(1, $totals['settings_differing'])]],
        };
    }
}
