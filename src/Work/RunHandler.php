<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Run;
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

    /** @param ServiceProviderInterface<Job> $jobs */
    public function __construct(
        private readonly EntityManagerInterface $entities,
        private readonly LockFactory $locks,
        private readonly MessageBusInterface $bus,
        private readonly ClockInterface $clock,
        private readonly LoggerInterface $logger,
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
        // Cables come and go; only a phone that is there again is worth starting the work for.
        if (RunState::Waiting !== $run->state()) {
            $run->work();
            $this->entities->flush();
        }
        try {
            $job->ensurePossible($run);
            $run->work();
            $this->entities->flush();
            $job->do($run, new RunProgress($this->entities->getConnection(), $run->id));
            $run->finish($this->clock->now());
        } catch (PhoneUnplugged|PhoneRefuses $hindrance) {
            $run->wait($hindrance instanceof PhoneUnplugged ? sprintf('Phone %s is not connected. Plug its cable in.', $this->tag($run, $hindrance->serial)) : $hindrance->getMessage());
            $this->entities->flush();
            $this->again($run);

            return;
        } catch (UnusableInput|RestoreRefused $refusal) {
            $run->fail($refusal->getMessage(), $this->clock->now());
        } catch (\Throwable $error) {
            $this->logger->error('A run failed.', ['run' => $run->id, 'kind' => $run->kind->value, 'exception' => $error]);
            $run->fail(\RuntimeException::class === $error::class ? $error->getMessage() : 'Something unexpected happened and is in the log. Nothing half done was put in place. Go on, or tell the manager.', $this->clock->now());
        }
        if (!$this->entities->isOpen()) {
            return;
        }
        $this->entities->flush();
        if (RunState::Done === $run->state()) {
            $next = $job->next($run);
            if (null !== $next) {
                $this->bus->dispatch(new WorkOnRun($next->id));
            }
        }
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
