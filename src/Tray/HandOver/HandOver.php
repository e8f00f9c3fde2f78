<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\HandOver;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Holding;
use Geschenk\App\Entity\Origin;
use Geschenk\App\Entity\Phone;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\App\Files\Leftovers;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Shop;
use Geschenk\App\Tray\Intake\Intake;
use Geschenk\App\Tray\RunSheet;
use Geschenk\Core\Phone\Role;
use Psr\Clock\ClockInterface;

/** The last stage: the tray is closed, copies of the chats are dropped, the backup and the proof stay. */
final readonly class HandOver
{
    public function __construct(
        private EntityManagerInterface $entities,
        private Records $records,
        private RunSheet $sheet,
        private ClockInterface $clock,
        private Phones $phones,
        private ShopLog $log,
        private Leftovers $leftovers,
        private StillOpen $open,
    ) {
    }

    /**
     * @param string|null $keepUntil the last day on which backups are kept, YYYY-MM-DD; the shop's rule where none is
     *                               told
     * @param list<string> $seen ids of what is still open, as somebody has seen it
     *
     * @throws Refusal
     */
    public function close(int $number, string $by, ?string $keepUntil = null, array $seen = []): void
    {
        $tray = $this->records->changeTray($number, function (Tray $tray) use ($by, $keepUntil, $seen): Tray {
            $until = $this->keepUntil($keepUntil, $this->keepDays($tray));
            $this->ensureMay($tray);
            $missing = 0;
            $isComplete = true;
            foreach ($tray->onlyBacksUp() ? [] : $tray->moves() as $move) {
                $totals = $move->bringing()->check()?->totals();
                $missing += $totals['missing'] ?? 0;
                $isComplete = $isComplete && true === ($totals['complete'] ?? null);
            }
            $open = $this->ensureSeen($tray, $seen);
            $this->end($tray, $by, $until);
            $code = match (true) {
                $tray->onlyBacksUp() => 'handed_over_backed_up',
                $isComplete => 'handed_over',
                default => 'handed_over_incomplete',
            };
            if ($open > 0) {
                $this->sheet->note($tray, Stage::HandOver, $by, 'still_open', ['count' => $open]);
            }
            $this->sheet->note($tray, Stage::HandOver, $by, $code, ['missing' => $missing]);

            return $tray;
        });
        // Only once it is stored that they are needed no more.
        foreach ($tray->allMoves() as $move) {
            $this->leftovers->drop($move);
        }
    }

    /**
     * Whether it can be handed over, whatever is still open.
     *
     * @throws Refusal
     */
    public function ensureMay(Tray $tray): void
    {
        if (null !== $tray->closedAt()) {
            throw Refusal::because('handed_over_already');
        }
        if ($tray->isBusy()) {
            throw Refusal::because('hand_over_while_busy');
        }
        if ([] === $tray->moves()) {
            throw Refusal::because('nothing_checked');
        }
        $this->ensureNothingIsStaged($tray);
        foreach ($tray->moves() as $move) {
            if ($tray->onlyBacksUp()) {
                $move->backup() ?? throw Refusal::because('move_not_backed_up', ['edition' => $move->edition]);
                continue;
            }
            $bringing = $move->bringing();
            $bringing->check() ?? throw Refusal::because(
                1 === count($tray->moves()) ? 'nothing_checked' : 'move_not_checked', ['edition' => $move->edition],
            );
            if ($bringing->isTrial() && $bringing->isInPlace()) {
                throw Refusal::because('only_a_trial', ['edition' => $move->edition]);
            }
        }
    }

    /**
     * Ends a tray, be it handed over or not; in the caller's transaction. Runs that rest go on no more.
     *
     * @param \DateTimeImmutable|null $until when what is kept is erased; null for the shop's rule
     */
    public function end(Tray $tray, string $by, ?\DateTimeImmutable $until = null): void
    {
        foreach ($tray->allMoves() as $move) {
            $move->run()?->isFollowed($this->clock->now());
        }
        $tray->close($this->clock->now());
        foreach ($tray->phones() as $phone) {
            $seen = $this->phones->state($phone->serial);
            null === $seen ?: $phone->wasSeenAs($seen->maker, $seen->model);
        }
        $tray->keep($until ?? $this->keepUntil(null, $this->keepDays($tray)), $by);
        $this->forgetWhatTheyHold($tray);
    }

    /**
     * One click hands nothing over unseen.
     *
     * @param list<string> $seen
     *
     * @return int how much is still open
     *
     * @throws Refusal
     */
    private function ensureSeen(Tray $tray, array $seen): int
    {
        foreach ($tray->onlyBacksUp() ? [] : $tray->moves() as $move) {
            if ($this->open->isSigningUp($move->to()->serial, $move->app)) {
                throw Refusal::because('number_under_way', ['name' => $move->edition, 'tag' => $move->to()->tag]);
            }
        }
        $open = array_column($this->open->of($tray), 'id');
        $unseen = array_diff($open, $seen);
        if ([] !== $unseen) {
            throw Refusal::because('still_open', ['count' => count($unseen)]);
        }

        return count($open);
    }

    /**
     * Keeps the backups until another day.
     *
     * @throws Refusal
     */
    public function keep(int $number, string $until, string $by): void
    {
        $end = $this->keepUntil($until);
        $this->records->changeTray($number, function (Tray $tray) use ($end, $by): void {
            if (null === $tray->closedAt()) {
                throw Refusal::because('erase_after_hand_over');
            }
            if (!$tray->keepsChats()) {
                throw Refusal::because('erased_already');
            }
            $tray->keep($end, $by);
            $this->log->noteWithFlush($by, 'kept_until', $tray->number, ['kept_at' => $end->getTimestamp()]);
        });
    }

    /**
     * Keeps one backup until a day of its own, earlier than the rest of its tray or later.
     *
     * @throws Refusal
     */
    public function keepBackup(string $id, string $until, string $by): void
    {
        $end = $this->keepUntil($until);
        $this->records->change(function () use ($id, $end, $by): void {
            $backup = $this->entities->find(Backup::class, $id) ?? throw Refusal::because('no_such_backup');
            if (null === $backup->tray->closedAt()) {
                throw Refusal::because('erase_after_hand_over');
            }
            if (!$backup->isKept()) {
                throw Refusal::because('erased_already');
            }
            $backup->keep($end);
            $this->log->noteWithFlush($by, 'backup_kept_until', $backup->tray->number, [
                'edition' => $backup->edition, 'kept_at' => $end->getTimestamp(),
            ]);
        });
    }

    /**
     * Opens a tray anew, to bring its chats once more, to the same phone or to another.
     *
     * @param string|null $receiving serial of another phone that receives; null for the one that did
     *
     * @throws Refusal
     */
    public function reopen(int $number, ?string $receiving, string $by): void
    {
        $this->records->changeTray($number, function (Tray $tray) use ($receiving, $by): void {
            self::ensureMayReopen($tray);
            if (null !== $receiving && !$tray->onlyBacksUp() && $tray->phone(Role::Receives)->serial !== $receiving) {
                if (null === $this->phones->state($receiving)) {
                    throw Refusal::because('not_on_bench', ['serial' => $receiving]);
                }
                if ($tray->has(Role::Gives) && $tray->phone(Role::Gives)->serial === $receiving) {
                    throw Refusal::because('one_phone_twice');
                }
                $tray->receiveOn($receiving);
            }
            foreach ($tray->phones() as $phone) {
                $other = $this->phones->inUse([$phone->serial])[$phone->serial] ?? $tray->number;
                if ($other !== $tray->number) {
                    throw Refusal::because('in_other_tray', ['serial' => $phone->serial, 'tray' => $other]);
                }
            }
            foreach ($tray->moves() as $move) {
                $move->bringOnceMore($this->clock->now());
            }
            $tray->reopen();
            // A day that is over by now would end it as soon as the tray is closed again.
            foreach ($this->entities->getRepository(Backup::class)->findBy(['tray' => $tray]) as $backup) {
                if ($backup->hasItsOwnDay() && $backup->keptUntil() <= $this->clock->now()) {
                    $backup->keepWithItsTray();
                }
            }
            $this->sheet->note($tray, Stage::Intake, $by, Intake::noted('reopened', $tray), $tray->tags());
        });
    }

    /**
     * Whether it can be opened once more, as far as its own records tell.
     *
     * @throws Refusal
     */
    public static function ensureMayReopen(Tray $tray): void
    {
        if (null === $tray->closedAt()) {
            throw Refusal::because('not_handed_over');
        }
        if ([] === $tray->phones()) {
            throw Refusal::because('nothing_to_bring_anew');
        }
        if (!$tray->keepsChats()) {
            throw Refusal::because('erased_already');
        }
        if ($tray->isBusy()) {
            throw Refusal::because('erase_while_busy');
        }
        foreach ($tray->moves() as $move) {
            false !== $move->backup()?->isKept() ?: throw Refusal::because('erased_already');
        }
    }

    /**
     * No phone leaves with chats that were only staged on it.
     *
     * @throws Refusal
     */
    private function ensureNothingIsStaged(Tray $tray): void
    {
        foreach ($this->entities->getRepository(Run::class)->findBy(['move' => $tray->allMoves()]) as $run) {
            $fields = ['tag' => $run->phone()->tag ?? '', 'kind' => $run->kind];
            if ($run->hasLeftOnPhone()) {
                throw Refusal::because('left_on_phone', $fields);
            }
            if ($run->isNewest() && $run->state()->canGoOn() && $run->stages) {
                throw Refusal::because('hand_over_while_standing', $fields);
            }
        }
    }

    /** Days for which the shop keeps what it has of a tray, where nothing else is said. */
    public function keepDays(Tray $tray): int
    {
        $copies = $this->entities->getRepository(Backup::class)
            ->findBy(['tray' => $tray, 'origin' => Origin::SafetyCopy]);
        $isDamaged = [] !== array_filter(
            $copies, static fn (Backup $copy): bool => $copy->lost > 0 || $copy->lossUncounted,
        );

        return $isDamaged ? Shop::KEEP_DAYS_DAMAGED : Shop::KEEP_DAYS;
    }

    /** @return \DateTimeImmutable the moment after the last day */
    private function keepUntil(?string $day, int $days = Shop::KEEP_DAYS): \DateTimeImmutable
    {
        $today = Shop::day($this->clock->now()->setTimezone(new \DateTimeZone(Shop::ZONE))->format('Y-m-d'))
            ?? throw new \LogicException('Today is no day.');
        $last = null === $day || '' === $day
            ? $today->modify(sprintf('+%d days', $days))
            : Shop::day($day) ?? throw Refusal::because('no_day');
        if ($last < $today || $last > $today->modify(sprintf('+%d days', Shop::KEEP_DAYS_MOST))) {
            throw Refusal::because('no_day_to_keep', ['days' => Shop::KEEP_DAYS_MOST]);
        }

        return $last->modify('+1 day')->setTimezone(new \DateTimeZone('UTC'));
    }

    /** In the caller's transaction. Whose phone lies on the bench next time is nobody's business until they consent. */
    private function forgetWhatTheyHold(Tray $tray): void
    {
        $serials = array_map(static fn (TrayPhone $phone): string => $phone->serial, $tray->phones());
        $this->entities->createQuery('DELETE FROM '.Holding::class.' h WHERE h.serial IN (:serials)')
            ->setParameter('serials', $serials)->execute();
        foreach ($this->entities->getRepository(Phone::class)->findBy(['serial' => $serials]) as $phone) {
            $phone->startAnew();
        }
    }
}
