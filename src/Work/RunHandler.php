<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Run;
use Geschenk\Core\Files\Disk;
use Geschenk\Core\Files\DiskFailure;
use Geschenk\Core\Files\DiskFull;
use Geschenk\Core\Messenger\UnusableInput;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Restore\RestoreRefused;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\DependencyInjection\Attribute\AutowireLocator;
use Symfony\Component\Lock\LockFactory;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Messenger\MessageBusInterface;
use Symfony\Component\Messenger\Stamp\DelayStamp;
use Symfony\Contracts\Service\ServiceProviderInterface;

/**
 * Takes up a run, as often as it takes: a run that a phone interrupts waits and looks again by itself, one whose
 * worker was killed is taken up by the next worker. A phone is used by one run at a time.
 */
#[AsMessageHandler]
final class RunHandler
{
    private const LOOK_AGAIN_MS = 1_500;
    /** A run that ends its worker is begun so often. */
    private const ATTEMPTS = 3;
    /** Bytes: with that much more room than when the disk was full it is worth going on. */
    private const ROOM = 1_000_000;
    private const NO_ROOM = 'This computer’s disk is full. Free some space; nothing is lost.';

    /** @param ServiceProviderInterface<Job> $jobs */
    public function __construct(
        private readonly EntityManagerInterface $entities,
        private readonly LockFactory $locks,
        private readonly MessageBusInterface $bus,
        private readonly ClockInterface $clock,
        private readonly LoggerInterface $logger,
        private readonly DataFolder $data,
        #[AutowireLocator(Job::class, defaultIndexMethod: 'kind')] private readonly ServiceProviderInterface $jobs,
    ) {
    }

    public function __invoke(WorkOnRun $message): void
    {
        $this->entities->clear();
        $run = $this->entities->find(Run::class, $message->runId);
        if (null === $run || $run->state()->isOver()) {
            return;
        }
        $own = $this->locks->createLock('run-'.$run->id, null);
        if (!$own->acquire()) {
            return;
        }
        $job = $this->jobs->get($run->kind->value);
        $phone = $this->locks->createLock('phone-'.$job->serial($run), null);
        if (!$phone->acquire()) {
            $own->release();
            $this->again($run);

            return;
        }
        try {
            $this->work($run, $job);
        } finally {
            $phone->release();
            $own->release();
        }
    }

    private function work(Run $run, Job $job): void
    {
        if ($run->attempts() >= self::ATTEMPTS) {
            $run->fail(sprintf('The work was begun %d times and ended its worker each time. It is damaged, or was made to do harm; the log says more. Nothing half done was put in place.', self::ATTEMPTS), $this->clock->now());
            $this->entities->flush();

            return;
        }
        try {
            // Cables come and go, disks fill up: only what can go on is worth starting the work for.
            $this->ensureRoom($run);
            $job->ensurePossible($run);
            $run->begin();
            $this->entities->flush();
            $job->do($run, new RunProgress($this->entities->getConnection(), $run->id));
            $run->finish($this->clock->now());
        } catch (PhoneUnplugged|PhoneRefuses $hindrance) {
            $run->wait($hindrance instanceof PhoneUnplugged ? sprintf('Phone %s is not connected. Plug its cable in.', $this->tag($run, $hindrance->serial)) : $hindrance->getMessage());
            $this->entities->flush();
            $this->again($run);

            return;
        } catch (\Throwable $error) {
            if ($this->isDiskFull($error)) {
                $this->waitForRoom($run);

                return;
            }
            $run->fail($this->trouble($run, $error), $this->clock->now());
        }
        if (!$this->entities->isOpen()) {
            return;
        }
        try {
            // What follows is stored with what it follows: a worker that is killed here has done neither.
            $this->entities->getConnection()->transactional(function () use ($run, $job): void {
                $next = RunState::Done === $run->state() ? $job->next($run) : null;
                $this->entities->flush();
                if (null !== $next) {
                    $this->bus->dispatch(new WorkOnRun($next->id));
                }
            });
        } catch (\Throwable $error) {
            if (!$this->isDiskFull($error)) {
                throw $error;
            }
            $this->waitForRoom($run);
        }
    }

    /** @throws DiskFull while there is no more room than when there was none */
    private function ensureRoom(Run $run): void
    {
        $then = $run->freeWhenFull();
        if (RunState::Waiting === $run->state() && null !== $then && disk_free_space($this->data->path) < $then + self::ROOM) {
            throw new DiskFull($this->data->path);
        }
    }

    /** SQLite calls it an error of the disk where it found no room for a file of its own: whether that is so is tried. */
    private function isDiskFull(\Throwable $error): bool
    {
        return DiskFull::isMeantBy($error) || (str_contains($error->getMessage(), 'disk I/O error') && !Disk::hasRoom($this->data->path));
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
                    $waits = <<<'SQL'
                        UPDATE run SET state = :waiting, attempts = 0, free_when_full = :free, trouble = :trouble
                        WHERE id = :id AND state NOT IN (:done, :failed)
                        SQL;
                    $connection->executeStatement($waits, [
                        'waiting' => RunState::Waiting->value, 'done' => RunState::Done->value, 'failed' => RunState::Failed->value,
                        'free' => $free, 'trouble' => self::NO_ROOM, 'id' => $run->id,
                    ]);
                    $this->again($run);
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

    private function trouble(Run $run, \Throwable $error): string
    {
        if ($error instanceof UnusableInput || $error instanceof RestoreRefused || $error instanceof RunStopped || $error instanceof DiskFailure) {
            return $error->getMessage();
        }
        $this->logger->error('A run failed.', ['run' => $run->id, 'kind' => $run->kind->value, 'exception' => $error]);

        return \RuntimeException::class === $error::class ? $error->getMessage() : 'Something unexpected happened and is in the log. Nothing half done was put in place. Go on, or tell the manager.';
    }

    /** What is stuck on the phone; its serial says nothing at the counter. */
    private function tag(Run $run, string $serial): string
    {
        foreach ($run->tray->phones() as $phone) {
            if ($phone->serial === $serial) {
                return $phone->tag;
            }
        }

        return $serial;
    }

    private function again(Run $run): void
    {
        $this->bus->dispatch(new WorkOnRun($run->id), [new DelayStamp(self::LOOK_AGAIN_MS)]);
    }
}
