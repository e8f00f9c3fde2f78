<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Import;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Import;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Files\Upload\Uploads;
use Geschenk\App\Records;
use Geschenk\App\WorkLocks;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Files\Durable\DiskFailure;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;

/**
 * What lies here for an import is chats that lie open. It goes with its run; of one that failed, or stood still, and
 * that nobody has gone on with for a day, the watch takes it away.
 */
final readonly class LeftImports
{
    private const KEPT = '-24 hours';

    public function __construct(
        private EntityManagerInterface $entities,
        private ImportPlaces $places,
        private Uploads $uploads,
        private Vault $vault,
        private Records $records,
        private WorkLocks $locks,
        private ClockInterface $clock,
        private LoggerInterface $logger,
    ) {
    }

    public function sweep(): void
    {
        $unmade = $this->entities->createQuery(
            'SELECT i.id FROM '.Import::class.' i WHERE i.backup IS NULL OR i.upload IS NOT NULL',
        )->getSingleColumnResult();
        foreach (array_unique([...$this->places->ids(), ...array_filter($unmade, is_string(...))]) as $id) {
            $run = $this->entities->find(Run::class, $id);
            if (null !== $run && !$this->isOver($run)) {
                continue;
            }
            $lock = null === $run ? null : $this->locks->ofRun($run);
            if (false === $lock?->acquire()) {
                continue;
            }
            try {
                // As it stands now that nobody else can work on it.
                $this->entities->clear();
                $run = $this->entities->find(Run::class, $id);
                null !== $run && !$this->isOver($run) ?: $this->drop($id);
            } catch (DiskFailure $failure) {
                $this->logger->error('What is left of an import can’t be removed.', ['exception' => $failure]);
            } finally {
                $lock?->release();
            }
        }
        $this->uploads->sweep();
    }

    private function isOver(Run $run): bool
    {
        $isLate = ($run->finishedAt() ?? $run->askedAt) <= $this->clock->now()->modify(self::KEPT);

        return $run->state()->isOver() || ($isLate && RunState::Failed === $run->state());
    }

    /** @throws DiskFailure */
    private function drop(string $id): void
    {
        $this->places->discard($id);
        $import = $this->entities->find(Import::class, $id);
        if (null === $import?->backup()) {
            $this->vault->discardBegun($id);
        }
        $upload = $import?->upload();
        if (null !== $upload) {
            $this->uploads->discard($upload);
        }
        $this->records->change(function () use ($id): void {
            $import = $this->entities->find(Import::class, $id);
            $import?->isLetGo();
            null !== $import?->backup() ?: $import?->forgetsNames();
        });
    }
}
