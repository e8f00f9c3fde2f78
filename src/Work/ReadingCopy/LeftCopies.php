<?php

declare(strict_types=1);

namespace Geschenk\App\Work\ReadingCopy;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Run;
use Geschenk\App\WorkLocks;
use Geschenk\Core\Files\Durable\DiskFailure;
use Psr\Log\LoggerInterface;

/**
 * What was made here for a copy is chats that lie open. It goes with its run; where another run has followed one that
 * stood still, or a worker was killed between the last two steps, the watch takes it away.
 */
final readonly class LeftCopies
{
    public function __construct(
        private EntityManagerInterface $entities,
        private CopyPlaces $places,
        private WorkLocks $locks,
        private LoggerInterface $logger,
    ) {
    }

    public function sweep(): void
    {
        foreach ($this->places->ids() as $id) {
            $run = $this->entities->find(Run::class, $id);
            // One that stands still goes on with it.
            if (null === $run || !$run->state()->isOver()) {
                continue;
            }
            $lock = $this->locks->ofRun($run);
            if (!$lock->acquire()) {
                continue;
            }
            try {
                $this->places->discard($id);
            } catch (DiskFailure $failure) {
                $this->logger->error('What is left of a copy can’t be removed.', ['exception' => $failure]);
            } finally {
                $lock->release();
            }
        }
    }
}
