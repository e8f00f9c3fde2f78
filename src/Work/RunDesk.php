<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunKind;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Entity\Step;
use Geschenk\App\Entity\StopWish;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Security\KeySafe;
use Geschenk\App\Tray\Choosing;
use Geschenk\App\Tray\Labels;
use Geschenk\App\Tray\LackingPoint;
use Geschenk\App\Tray\Merging;
use Geschenk\App\Tray\RunSheet;
use Geschenk\App\Tray\TrayReadiness;
use Geschenk\Core\Arrival\Totals;
use Geschenk\Core\Conversion\LossRules;
use Geschenk\Core\Conversion\UnknownChoice;
use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\Transfer\RestorePermit;
use Geschenk\Core\Transfer\RestoreRefused;
use Geschenk\Core\Transfer\Unreadable;
use Psr\Clock\ClockInterface;
use Symfony\Component\Messenger\MessageBusInterface;
use Symfony\Component\Uid\Uuid;

/**
 * Where runs are asked for. Each method is one guarded change: it reads the tray anew, checks that the move is ready,
 * and stores run, note and the message for the worker together.
 *
 * @phpstan-import-type LocalBackup from Run
 */
final readonly class RunDesk
{
    public function __construct(
        private Records $records,
        private EntityManagerInterface $entities,
        private MessageBusInterface $bus,
        private ClockInterface $clock,
        private Phones $phones,
        private TrayReadiness $readiness,
        private RunSheet $sheet,
        private ShopLog $log,
        private KeySafe $keys,
        private Merging $merging,
        private Choosing $choosing,
        private Labels $labels,
    ) {
    }

    /**
     * @param int         $place        of the move in its tray
     * @param string|null $confirmedTag for a restore: the receiving phone's tag as it was typed
     * @param int|null    $replaces     for a restore: messages that are lost on the phone, as they were shown
     * @param string|null $localBackup  for a backup: the messenger's own that is taken, by its path on the phone
     * @param string|null $key          opens that, where it is locked
     * @param int|null    $unreadable   for a restore: messages on the phone that can't be read, as they were shown
     * @param string|null $after        newest run of the move when it was asked for ("none" without one); else there
     *                                  is another by now, it is not begun. Null asks for it whatever there is.
     *
     * @throws Refusal
     */
    public function ask(
        int $tray,
        int $place,
        RunKind $kind,
        string $by,
        ?string $confirmedTag = null,
        ?int $replaces = null,
        ?string $localBackup = null,
        #[\SensitiveParameter] ?string $key = null,
        ?string $after = null,
        ?int $unreadable = null,
    ): Run {
        return $this->records->changeTray($tray, function (Tray $tray) use (
            $place, $kind, $by, $confirmedTag, $replaces, $localBackup, $key, $after, $unreadable,
        ): Run {
            $move = $this->openMove($tray, $place, RunKind::PutBack === $kind);
            $this->ensureNewest($move, $after);

            return $this->begin($move, $kind, $by, $confirmedTag, $replaces, $localBackup, $key, $unreadable);
        });
    }

    /**
     * Backs up several accounts of a tray: all of them are begun, or none.
     *
     * @param list<array{place: int, local_backup: string|null, key: string|null, after: string|null}> $accounts
     *
     * @throws Refusal
     */
    public function backUp(int $tray, #[\SensitiveParameter] array $accounts, string $by): void
    {
        [] !== $accounts ?: throw Refusal::because('no_such_move');
        $this->records->change(function () use ($tray, $accounts, $by): void {
            foreach ($accounts as $one) {
                $this->ask(
                    $tray, $one['place'], RunKind::Backup, $by, localBackup: $one['local_backup'], key: $one['key'],
                    after: $one['after'],
                );
            }
        });
    }

    /**
     * Chooses what becomes of something that the receiving side can't hold, and has the rehearsal made anew with it.
     *
     * @param string|null $after as for ask()
     *
     * @throws Refusal
     * @throws UnknownChoice
     */
    public function choose(
        int $tray,
        int $place,
        string $rule,
        string $choice,
        string $by,
        ?string $after = null,
    ): Run {
        LossRules::ensureOffered([$rule => $choice]);

        return $this->records->changeTray($tray, function (Tray $tray) use ($place, $rule, $choice, $by, $after): Run {
            $move = $this->openMove($tray, $place);
            $this->ensureNewest($move, $after);
            if (null !== $move->restoredAt()) {
                throw Refusal::because('choice_after_restore');
            }
            $move->choose($rule, $choice);
            $this->log->noteWithFlush($by, 'chose', $tray->number, [
                'rule' => sprintf('@loss.%s.sentence', $rule), 'choice' => sprintf('@loss.%s.%s', $rule, $choice),
                'edition' => $move->edition,
            ]);

            return $this->begin($move, RunKind::Conversion, $by);
        });
    }

    /**
     * Brings what a check found missing: merged with what is there, rehearsed first like every merge.
     *
     * @param string|null $after as for ask()
     *
     * @throws Refusal
     */
    public function bringMissing(int $tray, int $place, string $by, ?string $after = null): Run
    {
        return $this->records->changeTray($tray, function (Tray $tray) use ($place, $by, $after): Run {
            $move = $this->openMove($tray, $place);
            $this->ensureNewest($move, $after);
            if (null === $move->restoredAt() || null === $move->check()) {
                throw Refusal::because('nothing_checked');
            }
            if ($move->isBusy()) {
                throw Refusal::because('busy', ['edition' => $move->edition]);
            }
            if ($move->check()->isComplete()) {
                throw Refusal::because('nothing_missing');
            }
            $move->bringMissing();
            $this->log->noteWithFlush($by, 'bring_missing', $tray->number, ['edition' => $move->edition]);

            return $this->begin($move, RunKind::Conversion, $by);
        });
    }

    /**
     * Brings what a trial left for later: merged with what it has brought, rehearsed first like every merge.
     *
     * @param string|null $after as for ask()
     *
     * @throws Refusal
     */
    public function bringRest(int $tray, int $place, string $by, ?string $after = null): Run
    {
        // Counted before: it may take seconds, and nobody else could change anything meanwhile.
        $counted = $this->entities->getRepository(Tray::class)->findOneBy(['number' => $tray])?->move($place)
            ?? throw Refusal::because('no_such_move');
        if (null !== $counted->tray->closedAt()) {
            throw Refusal::because('tray_closed');
        }
        if (!$counted->isTrial()) {
            throw Refusal::because('no_trial', ['edition' => $counted->edition]);
        }
        $before = $counted->scope();
        [$scope, $brings] = $this->choosing->rest($counted);
        $change = function (Tray $tray) use ($place, $by, $after, $before, $scope, $brings): Run {
            $move = $this->openMove($tray, $place);
            $this->ensureNewest($move, $after);
            if (null === $move->restoredAt() || null === $move->check()) {
                throw Refusal::because('nothing_checked');
            }
            if ($move->isBusy() || $move->scope() !== $before) {
                throw Refusal::because('busy', ['edition' => $move->edition]);
            }
            $move->bringRest($scope->isAll() ? null : $scope->toArray(), $brings);
            $this->log->noteWithFlush($by, 'bring_rest', $tray->number, ['edition' => $move->edition]);

            return $this->begin($move, RunKind::Conversion, $by);
        };

        return $this->records->changeTray($tray, $change);
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
            if (!$run->canGoOn()) {
                throw Refusal::because('run_not_standing');
            }
            $this->ensureNobodyElseHas($tray, $run->serial() ?? '');
            $this->keepKey($run, $key);
            $run->goOn($by);
            $this->noteOfRun($run, 'went_on', $by);
            $this->handOut($run);
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
            if ($run->state()->rests() || RunState::Cancelling === $run->state()) {
                throw Refusal::because('run_over');
            }
            $run->stop(StopWish::Pause, $by);
            $this->noteOfRun($run, 'paused', $by);
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
            if ($run->state()->isOver() || RunState::Cancelling === $run->state()) {
                throw Refusal::because('run_over');
            }
            $run->stop(StopWish::Cancel, $by);
            $this->noteOfRun($run, 'cancelled', $by);
            $this->handOut($run);
        });
    }

    /** @throws Refusal */
    private function ensureNewest(Move $move, ?string $after): void
    {
        if (!$move->isStill($after)) {
            throw Refusal::because('meanwhile', ['edition' => $move->edition]);
        }
    }

    private function begin(
        Move $move,
        RunKind $kind,
        string $by,
        ?string $confirmedTag = null,
        ?int $replaces = null,
        ?string $localBackup = null,
        #[\SensitiveParameter] ?string $key = null,
        ?int $unreadable = null,
    ): Run {
        if ($move->isBusy()) {
            throw Refusal::because('busy', ['edition' => $move->edition]);
        }
        if (null !== $confirmedTag && !$move->tray->onlyBacksUp()) {
            $confirmedTag = $this->labels->read($move->to(), $confirmedTag);
        }
        if (RunKind::Backup !== $kind && $move->tray->onlyBacksUp()) {
            throw Refusal::because('only_backs_up');
        }
        match ($kind) {
            RunKind::Backup => $this->ensureReady($move),
            RunKind::Conversion => $this->ensureConvertible($move),
            RunKind::Restore => $this->ensureRestorable($move, $confirmedTag ?? '', $replaces, $unreadable),
            RunKind::Check => $this->ensureToCheck($move),
            RunKind::PutBack => $this->ensureToPutBack($move, $confirmedTag ?? ''),
        };
        $run = $this->newRun($move, $kind, $by, $confirmedTag, $replaces, $unreadable);
        if (RunKind::Backup === $kind) {
            $run->takes($this->localBackup($move, $localBackup));
        }
        $this->keepKey($run, $key);
        $this->noteStages($run);
        $this->noteOfRun($run, 'asked', $by);
        $this->handOut($run);

        return $run;
    }

    /** In the caller's transaction. */
    public function newRun(
        Move $move,
        RunKind $kind,
        string $by,
        ?string $confirmedTag = null,
        ?int $replaces = null,
        ?int $unreadable = null,
    ): Run {
        $run = new Run(
            Uuid::v7()->toRfc4122(), $this->records->next(Run::class), $move, $kind, $this->clock->now(), $by,
            $confirmedTag, $replaces, $unreadable,
        );
        $this->entities->persist($run);
        $move->begin($run);

        return $run;
    }

    private function noteOfRun(Run $run, string $act, string $by): void
    {
        $this->log->noteWithFlush($by, $act, $run->move->tray->number, [
            'kind' => $run->kind->value, 'edition' => $run->move->edition,
        ]);
    }

    /** The run and the message that hands it to a worker are stored together: none without the other. */
    private function handOut(Run $run): void
    {
        $this->entities->flush();
        $this->bus->dispatch(new WorkOnRun($run->id));
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
        if (null !== $move->tray->closedAt() && RunKind::PutBack !== $run->kind) {
            throw Refusal::because('tray_closed');
        }
        if (!$move->tray->keepsChats()) {
            throw Refusal::because('erased_already');
        }

        return $run;
    }

    /**
     * The messenger's own backup that is taken: the one that was asked for, and the newest where its chats lie in
     * nothing else.
     *
     * @return LocalBackup|null null for the chats as they are
     *
     * @throws Refusal when it is not there, or no more
     */
    private function localBackup(Move $move, ?string $path): ?array
    {
        $holding = $this->phones->holding($move->from()->serial, $move->app);
        $own = null === $path ? $holding?->onlyWay() : null;
        foreach (null === $path ? [] : $holding?->localBackups() ?? [] as $one) {
            $own = $one['path'] === $path ? $one : $own;
        }
        if (null !== $path && null === $own) {
            throw Refusal::because('no_such_local_backup', ['tag' => $move->from()->tag]);
        }

        return null === $own ? null : [
            'path' => $own['path'], 'made_at' => $own['made_at'], 'lock' => $own['lock'], 'videos' => $own['videos'],
        ];
    }

    /** Keeps the key of a locked backup for the run; one that was told for chats that lie open is not kept. */
    private function keepKey(Run $run, #[\SensitiveParameter] ?string $key): void
    {
        if (RunKind::Backup !== $run->kind) {
            return;
        }
        $giving = $run->move->from();
        $holding = $this->phones->holding($giving->serial, $run->move->app);
        if (null === $run->localBackup()) {
            // It may have been asked for while the phone showed nothing.
            $run->takes($this->localBackup($run->move, null));
        }
        $own = $run->localBackup();
        $liesOpen = null === $own && null !== $holding?->mark() && true === $holding->isOverCable();
        if ($liesOpen || BackupLock::Open->value === ($own['lock'] ?? null)) {
            return;
        }
        if (null !== $own && null === $key) {
            throw Refusal::because('needs_key', ['tag' => $giving->tag]);
        }
        // Where it can't be seen now the run waits for the phone, and then the key is there if it was told.
        $run->keepKey(null === $key ? null : $this->keys->put($key), $this->clock->now());
    }

    private function ensureReady(Move $move): void
    {
        if (null !== $move->restoredAt()) {
            throw Refusal::because('restored_already');
        }
        $this->refuse($this->readiness->lacking($move));
    }

    private function refuse(?LackingPoint $lacking): void
    {
        if (null !== $lacking) {
            throw Refusal::because('not_ready', [
                'tag' => $lacking->phone->tag, 'point' => $lacking->point->variant, ...$lacking->point->params,
            ]);
        }
    }

    private function ensureConvertible(Move $move): void
    {
        if (null !== $move->restoredAt()) {
            throw Refusal::because('restored_already');
        }
        $move->backup() ?? throw Refusal::because('no_backup');
        if ($move->merges() && true !== $this->phones->state($move->to()->serial)?->plugged) {
            throw Refusal::because('plug_in_first', ['tag' => $move->to()->tag]);
        }
    }

    private function ensureRestorable(Move $move, string $confirmedTag, ?int $replaces, ?int $unreadable): void
    {
        $rehearsal = $move->rehearsal() ?? throw Refusal::because('nothing_converted');
        if (!$move->isAsChosen()) {
            throw RestoreRefused::otherChoices();
        }
        $receiving = $move->to();
        if (true !== $this->phones->state($receiving->serial)?->plugged) {
            throw Refusal::because('plug_in_first', ['tag' => $receiving->tag]);
        }
        $this->refuse($this->readiness->lackingToRestore($move));
        // An early no; the worker looks again before it writes anything.
        if ($move->merges()) {
            if ($this->merging->isStale($move)) {
                throw RestoreRefused::changedSinceMerge();
            }
            RestorePermit::toMerge(
                $receiving->tag, $confirmedTag, Totals::of($rehearsal['totals']), '', '',
                Unreadable::of($rehearsal['merge'] ?? []), $unreadable,
            );

            return;
        }
        $counts = $this->phones->holding($receiving->serial, $move->app)?->counts();
        RestorePermit::grant($receiving->tag, $confirmedTag, Totals::of($rehearsal['totals']), [
            'conversations' => $counts['conversations'] ?? 0, 'messages' => $counts['messages'] ?? 0,
        ], '', $replaces, '', Unreadable::of($counts ?? []), $unreadable);
    }

    private function ensureToPutBack(Move $move, string $confirmedTag): void
    {
        $isThere = null !== $move->restoredAt() || $move->bringsMissing();
        if (!$isThere || null === $move->safetyCopy()) {
            throw Refusal::because('nothing_to_put_back');
        }
        if (!$move->tray->keepsChats()) {
            throw Refusal::because('erased_already');
        }
        $receiving = $move->to();
        $this->ensureNobodyElseHas($move->tray, $receiving->serial);
        $this->ensureSettled($move);
        if (true !== $this->phones->state($receiving->serial)?->plugged) {
            throw Refusal::because('plug_in_first', ['tag' => $receiving->tag]);
        }
        RestorePermit::toPutBack($receiving->tag, $confirmedTag, '', '');
    }

    private function ensureToCheck(Move $move): void
    {
        null !== $move->restoredAt() ?: throw Refusal::because('nothing_restored');
        $this->ensureSettled($move);
    }

    /** While a number is half registered nothing is written to the messenger, and nothing of it checked. */
    private function ensureSettled(Move $move): void
    {
        $state = $this->phones->state($move->to()->serial)?->app($move->app);
        if (null !== $state?->signUp) {
            throw Refusal::because('number_under_way', ['name' => $state->name, 'tag' => $move->to()->tag]);
        }
    }

    /** Behind the hand-over the phone may be somebody else's affair by now. */
    private function ensureNobodyElseHas(Tray $tray, string $serial): void
    {
        $other = $this->phones->inUse([$serial])[$serial] ?? $tray->number;
        if ($other !== $tray->number) {
            throw Refusal::because('in_other_tray', ['serial' => $serial, 'tray' => $other]);
        }
    }

    /** What the request itself proves: that the phones were ready, and that somebody looked before converting. */
    private function noteStages(Run $run): void
    {
        $move = $run->move;
        $tray = $move->tray;
        if (RunKind::Backup === $run->kind) {
            $isNoted = [] !== array_filter(
                $tray->steps(), static fn (Step $step): bool => Stage::Ready === $step->stage,
            );
            if (!$isNoted) {
                $isOne = $tray->onlyBacksUp();
                $this->sheet->note($tray, null, Stage::Ready, $run->askedBy(), $isOne ? 'ready_one' : 'ready', [
                    'gives' => $move->from()->tag, ...($isOne ? [] : ['receives' => $move->to()->tag]),
                ]);
            }
        }
        $backup = $move->backup();
        if (RunKind::Conversion === $run->kind && null !== $backup) {
            $brings = $move->brings();
            [$code, $params] = null === $move->scope() || null === $brings ? ['looked', [
                'conversations' => $backup->conversations, 'messages' => $backup->messages,
            ]] : ['chosen', [
                'messages' => $brings['messages'], 'brought_bytes' => $brings['bytes'],
                'left_out' => $brings['left_out'], 'files' => $brings['without_file'],
            ]];
            $noted = array_filter(
                $tray->steps(),
                static fn (Step $step): bool => Stage::Choose === $step->stage && $step->move === $move,
            );
            $last = [] === $noted ? null : end($noted);
            if ($code !== $last?->code || $params !== $last->params) {
                $this->sheet->note($tray, $move, Stage::Choose, $run->askedBy(), $code, $params);
            }
        }
    }
}
