<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Import;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Import;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunAct;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Entity\StopWish;
use Geschenk\App\Files\Upload\Uploads;
use Geschenk\App\Records;
use Geschenk\App\Work\Erasing;
use Geschenk\App\Work\NewRuns;
use Geschenk\App\WorkLocks;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Files\Durable\DiskFailure;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;

/**
 * What lies here for an import is chats that lie open. It goes with its run; one that failed or rests, and that nobody
 * has gone on with for a day, is cancelled by the watch.
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
        private NewRuns $newRuns,
        private WorkLocks $locks,
        private ClockInterface $clock,
        private LoggerInterface $logger,
    ) {
    }

    public function sweep(): void
    {
        $this->records->change($this->endLateOnes(...));
        $unmade = $this->entities->createQuery(
            'SELECT i.id FROM '.Import::class." i WHERE i.upload IS NOT NULL OR (i.backup IS NULL AND i.name <> '')",
        )->getSingleColumnResult();
        foreach (array_unique([...$this->places->ids(), ...array_filter($unmade, is_string(...))]) as $id) {
            $run = $this->entities->find(Run::class, $id);
            if (null !== $run && !$run->state()->isOver()) {
                continue;
            }
            $lock = null === $run ? null : $this->locks->ofRun($run);
            if (false === $lock?->acquire()) {
                continue;
            }
            try {
                $this->drop($id);
            } catch (DiskFailure $failure) {
                $this->logger->error('What is left of an import can’t be removed.', ['exception' => $failure]);
            } finally {
                $lock?->release();
            }
        }
        $this->uploads->sweep();
    }

    /** In the caller's transaction: what nobody goes on with is cancelled, and undone by a worker as any other. */
    private function endLateOnes(): void
    {
        $dql = 'SELECT r FROM '.Run::class.' r, '.Import::class.' i WHERE i.id = r.id AND r.state IN (:still)';
        /** @var list<Run> $runs */
        $runs = $this->entities->createQuery($dql)
            ->setParameter('still', [RunState::Failed->value, RunState::Paused->value])->getResult();
        foreach ($runs as $run) {
            $since = $run->finishedAt() ?? $run->askedAt;
            if ($since <= $this->clock->now()->modify(self::KEPT) && $run->may(RunAct::Cancel)) {
                $run->stop(StopWish::Cancel, Erasing::RULE);
                $this->newRuns->note($run, RunAct::Cancel->logged(), Erasing::RULE);
                $this->newRuns->handOut($run);
            }
        }
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
