<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Run;
use Geschenk\Core\Files\ScratchFolder;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Lock\LockFactory;
use Symfony\Component\Messenger\Event\WorkerStartedEvent;
use Symfony\Component\Messenger\MessageBusInterface;

/** A worker that starts takes up the runs whose worker was killed: marked as going on, and locked by nobody. */
#[AsEventListener]
final readonly class TakeUpAbandonedRuns
{
    public function __construct(private EntityManagerInterface $entities, private LockFactory $locks, private MessageBusInterface $bus)
    {
    }

    public function __invoke(WorkerStartedEvent $event): void
    {
        ScratchFolder::sweep();
        foreach ($this->entities->getRepository(Run::class)->findBy(['state' => [RunState::Working, RunState::Waiting, RunState::Queued]]) as $run) {
            $lock = $this->locks->createLock('run-'.$run->id, null);
            if ($lock->acquire()) {
                $lock->release();
                // A second message for the same run is harmless: the run is locked while it is worked on, and over once.
                $this->bus->dispatch(new WorkOnRun($run->id));
            }
        }
    }
}
