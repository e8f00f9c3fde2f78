<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\ORM\EntityManagerInterface;
use Doctrine\Persistence\ManagerRegistry;
use Geschenk\App\Bench\Phones;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Records;
use Geschenk\App\Runs\Kind;
use Geschenk\App\Runs\KindOfMove;
use Geschenk\App\Runs\Kinds;
use Geschenk\App\Tray\Time\Paces;
use Geschenk\App\WorkLocks;
use Geschenk\Core\Failure;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Hindrance;
use Geschenk\Core\Phone\PhoneUnplugged;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;

/**
 * Takes up a run, as often as it takes: a run that a phone interrupts waits and looks again by itself, one whose
 * worker was killed is taken up by the next worker. A phone is used by one run at a time.
 */
#[AsMessageHandler]
final class RunHandler
{
    /** A run of which its worker dies is begun so often. */
    private const ATTEMPTS = 3;
    /** What PHP ends a process for. */
    private const FATAL = \E_ERROR | \E_CORE_ERROR | \E_COMPILE_ERROR;
    /** Bytes that are let go for the last words of a worker that has no memory left. */
    private const LAST_WORDS = 2_000_000;
    /** Bytes: with that much more room than when the disk was full it is worth going on. */
    private const ROOM = 1_000_000;

    /** Who works in this process, for its last words: what PHP ends a process for leaves no other way to them. */
    private static ?self $atWork = null;
    private static bool $isListening = false;

    /** The run that is worked on. */
    private ?string $current = null;
    private ?string $lastWords = null;
    /** Nanoseconds of the machine's own time when work on it was begun. */
    private ?int $since = null;

    public function __construct(
        private readonly EntityManagerInterface $entities,
        private readonly Records $records,
        private readonly WorkLocks $locks,
        private readonly ClockInterface $clock,
        private readonly LoggerInterface $logger,
        private readonly DataFolder $data,
        private readonly Phones $benchPhones,
        private readonly Paces $paces,
        private readonly Kinds $kinds,
        private readonly NewRuns $newRuns,
        private readonly ManagerRegistry $managers,
        private readonly Setbacks $setbacks,
    ) {
    }

    public function __invoke(WorkOnRun $message): void
    {
        $this->entities->clear();
        $run = $this->entities->find(Run::class, $message->runId);
        if (null === $run || ($run->state()->rests() && !$run->hasLeftOnPhone())) {
            return;
        }
        $serial = $run->serial();
        $locks = [
            $this->locks->ofRun($run), ...$this->locks->ofSubject($run->subject()),
            ...(null === $serial ? [] : [$this->locks->ofPhone($serial)]),
        ];
        if (!WorkLocks::acquireAll($locks)) {
            // The foreman hands it out again.
            return;
        }
        try {
            $this->listenForDeath();
            $this->current = $run->id;
            $this->work($run, $this->kinds->of($run->kind));
        } finally {
            $this->current = self::$atWork = $this->since = null;
            WorkLocks::release($locks);
        }
    }

    /** That a worker was killed, or the power went, says nothing of what it worked on; that it died by itself does. */
    private function listenForDeath(): void
    {
        self::$atWork = $this;
        $this->lastWords ??= str_repeat(' ', self::LAST_WORDS);
        // Once in a process, and holding nobody: a handler that is done with its work may be gone.
        if (!self::$isListening) {
            self::$isListening = true;
            register_shutdown_function(static function (): void {
                self::$atWork?->noteDeath(error_get_last()['type'] ?? 0);
            });
        }
    }

    /** @param int $error as PHP numbers its errors; 0 for none */
    private function noteDeath(int $error): void
    {
        $this->lastWords = '';
        if (null === $this->current || 0 === ($error & self::FATAL)) {
            return;
        }
        $connection = $this->entities->getConnection();
        while ($connection->isTransactionActive()) {
            $connection->rollBack();
        }
        // One that has got on since is begun anew, however often.
        $connection->executeStatement(<<<'SQL'
            UPDATE run
            SET attempts = IIF(died_at IS phase || ' ' || items_done || ' ' || bytes_done, attempts + 1, 1),
                died_at = phase || ' ' || items_done || ' ' || bytes_done
            WHERE id = :id
            SQL, ['id' => $this->current]);
    }

    private function work(Run $run, Kind $kind): void
    {
        if (in_array($run->state(), [RunState::Cancelling, RunState::Cancelled], true)) {
            $this->undo($run, $kind);

            return;
        }
        if ($run->attempts() >= self::ATTEMPTS) {
            $this->logger->error('A run has ended its worker again and again.', [
                'run' => $run->id, 'at' => $run->diedAt(),
            ]);
            $this->fails($run, 'ended_its_worker', ['count' => self::ATTEMPTS]);
            $this->entities->flush();

            return;
        }
        try {
            // Cables come and go, disks fill up: only what can go on is worth starting the work for.
            $this->ensureRoom($run);
            $kind->ensurePossible($run);
            $begun = $this->change($run, static fn (Run $run) => $run->begin());
            if (null === $begun) {
                return;
            }
            $run = $begun;
            $this->since = hrtime(true);
            $progress = new RunProgress($this->entities->getConnection(), $run->id, $this->clock);
            $kind->do($run, $progress);
            $run->wasWorkedOn($this->worked());
            $run->finish($this->clock->now());
            $this->paces->learn($run, $progress->spent());
        } catch (Hindrance $hindrance) {
            // The foreman hands it out again and again, until that is put right.
            $fields = $this->fields($run, $hindrance);
            $other = $hindrance instanceof PhoneUnplugged ? $this->benchPhones->lookAlike($hindrance->serial()) : null;
            $this->change($run, function (Run $run) use ($hindrance, $other, $fields): void {
                $run->wasWorkedOn($this->worked());
                null === $other
                    ? $run->wait($hindrance->reason, $fields)
                    : $run->wait('other_phone', ['other' => $other] + $fields);
                if ($hindrance->isSetback() && $run->isHinderedAnew()) {
                    $this->setbacks->note($run, false);
                }
            });

            return;
        } catch (RunStopped) {
            $stopped = $this->change($run, function (Run $run): void {
                $run->wasWorkedOn($this->worked());
                $run->heed();
            });
            if (RunState::Cancelling === $stopped?->state()) {
                $this->undo($stopped, $kind);
            }

            return;
        } catch (\Throwable $error) {
            if ($this->isDiskFull($error)) {
                $this->waitForRoom($run);

                return;
            }
            $run = $this->stillKnown($run) ?? throw $error;
            $failure = $error instanceof Failure ? $error : $this->unexpected($run, $error);
            $fields = null === $failure ? [] : $this->fields($run, $failure);
            $this->fails($run, $failure->reason ?? 'unexpected', $fields);
        }
        try {
            // What follows is stored with what it follows: a worker that is killed here has done neither.
            $this->entities->getConnection()->transactional(function () use ($run, $kind): void {
                // Over before the next begins: no move has two open runs, not even for a moment.
                $this->entities->flush();
                $next = RunState::Done === $run->state() && $kind instanceof KindOfMove ? $kind->next() : null;
                if (null !== $next) {
                    $this->newRuns->handOut(
                        $this->newRuns->make($run->move(), $this->kinds->ofMove($next), $run->askedBy()),
                    );
                }
            });
        } catch (\Throwable $error) {
            if (!$this->isDiskFull($error)) {
                throw $error;
            }
            $this->waitForRoom($run);
        }
    }

    /** @param array<string, string|int> $fields */
    private function fails(Run $run, string $reason, array $fields): void
    {
        $run->wasWorkedOn($this->worked());
        $run->fail($reason, $fields, $this->clock->now());
        $this->setbacks->note($run, true);
    }

    /** @return int milliseconds since work on the run was begun; told once */
    private function worked(): int
    {
        $since = $this->since ?? hrtime(true);
        $this->since = null;

        return intdiv(hrtime(true) - $since, 1_000_000);
    }

    /** Removes what a cancelled run has done; what is in place already is brought to its end instead. */
    private function undo(Run $run, Kind $kind): void
    {
        try {
            $undone = $kind->undo($run);
        } catch (\RuntimeException $error) {
            $run = $this->stillKnown($run) ?? throw $error;
            $failure = $error instanceof Failure ? $error : $this->unexpected($run, $error);
            $fields = null === $failure ? [] : $this->fields($run, $failure);
            $this->fails($run, $failure->reason ?? 'unexpected', $fields);
            $this->entities->flush();

            return;
        }
        $this->records->change(function () use ($run, $kind, $undone): void {
            match (true) {
                $undone->isTooLate && $run->isNewest() => $run->goOn(
                    $run->askedBy(), $kind instanceof KindOfMove ? $kind->phone($run->move()) : null,
                ),
                RunState::Cancelling === $run->state() => $run->cancelled(
                    $undone->removed, $undone->leftOnPhone, $this->clock->now(),
                ),
                // Another one has come after it: what is in place is that one's affair.
                !$undone->leftOnPhone => $run->phoneIsClean(),
                default => null,
            };
        });
    }

    /**
     * Changes a run as it stands in the database now, where somebody may have stopped it meanwhile.
     *
     * @param callable(Run): void $change
     *
     * @return Run|null null when it rests already
     */
    private function change(Run $run, callable $change): ?Run
    {
        return $this->records->change(function () use ($run, $change): ?Run {
            $this->entities->clear();
            $run = $this->entities->find(Run::class, $run->id);
            if (null === $run || $run->state()->rests()) {
                return null;
            }
            $change($run);

            return $run;
        });
    }

    /** @throws DiskFull while there is no more room than when there was none */
    private function ensureRoom(Run $run): void
    {
        $then = $run->freeWhenFull();
        if (RunState::Waiting === $run->state() && null !== $then
            && disk_free_space($this->data->path) < $then + self::ROOM) {
            throw DiskFull::at($this->data->path);
        }
    }

    /**
     * SQLite calls it an error of the disk where it found no room for a file of its own: whether that is so is tried.
     */
    private function isDiskFull(\Throwable $error): bool
    {
        return DiskFull::isMeantBy($error)
            || (str_contains($error->getMessage(), 'disk I/O error') && !Disk::hasRoom($this->data->path));
    }

    /**
     * Says that the run waits for room on this computer's disk. The shop's own database may lie on it too, and what
     * failed to be stored is forgotten: so it is said by itself, as soon as a few bytes are free.
     */
    private function waitForRoom(Run $run): void
    {
        $free = $run->freeWhenFull() ?? (int) disk_free_space($this->data->path);
        $connection = $this->entities->getConnection();
        for ($n = 0;; ++$n) {
            try {
                $connection->transactional(function () use ($connection, $run, $free): void {
                    $this->setbacks->noteFull($run->id);
                    $waits = <<<'SQL'
                        UPDATE run
                        SET state = :waiting, attempts = 0, free_when_full = :free, trouble = :trouble,
                            trouble_params = '[]'
                        WHERE id = :id AND state IN (:open)
                        SQL;
                    $open = [RunState::Queued->value, RunState::Working->value, RunState::Waiting->value];
                    $connection->executeStatement($waits, [
                        'waiting' => RunState::Waiting->value, 'open' => $open,
                        'free' => $free, 'trouble' => DiskFull::REASON, 'id' => $run->id,
                    ], ['open' => ArrayParameterType::STRING]);
                });

                return;
            } catch (\Throwable $error) {
                if ($n > 600 || !$this->isDiskFull($error)) {
                    throw $error;
                }
                sleep(1);
            }
        }
    }

    /**
     * A change that was refused has made the manager forget all it knew; one that the database refused has ended it.
     * Without another, that would be noted nowhere, and the run begun anew for ever.
     */
    private function stillKnown(Run $run): ?Run
    {
        $this->entities->isOpen() ?: $this->managers->resetManager();

        return $this->entities->contains($run) ? $run : $this->entities->find(Run::class, $run->id);
    }

    /** What nobody foresaw: for the log, and said as such. */
    private function unexpected(Run $run, \Throwable $error): null
    {
        $this->logger->error('A run failed.', ['run' => $run->id, 'kind' => $run->kind, 'exception' => $error]);

        return null;
    }

    /**
     * A phone is named by what is stuck on it; its serial says nothing at the counter.
     *
     * @return array<string, string|int>
     */
    private function fields(Run $run, Failure $failure): array
    {
        $phone = $run->phone();

        return $this->data->withoutPlace($failure->fields) + (null === $phone ? [] : ['tag' => $phone->tag]);
    }
}
