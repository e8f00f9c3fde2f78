<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Sealing;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Bringing;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Geschenk\App\Records;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\KindOfShop;
use Geschenk\App\Runs\Undone;
use Geschenk\App\Work\StopsAlone;
use Geschenk\App\WorkLocks;
use Geschenk\Core\Archive\SealedVault;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Progress;
use Geschenk\Core\UnusableInput;
use Psr\Clock\ClockInterface;
use Symfony\Component\Lock\LockInterface;

/**
 * Seals the backups that a version before has left open on the disk, one by one. Those that somebody works with just
 * now are left for the next time.
 */
final readonly class SealingKind implements KindOfShop
{
    public function __construct(
        private SealedVault $vault,
        private EntityManagerInterface $entities,
        private Records $records,
        private DataFolder $data,
        private WorkLocks $locks,
        private ClockInterface $clock,
    ) {
    }

    public static function name(): string
    {
        return 'sealing';
    }

    public function ensureMayBegin(): void
    {
    }

    public function take(Run $run, Asked $asked): void
    {
    }

    public function ensurePossible(Run $run): void
    {
    }

    public function do(Run $run, Progress $progress): void
    {
        $ids = $this->toSeal();
        $progress->phase('sealing', count($ids));
        foreach ($ids as $id) {
            $backup = $this->entities->find(Backup::class, $id);
            $locks = null === $backup ? [] : $this->locksOf($backup);
            if (WorkLocks::acquireAll($locks)) {
                try {
                    $this->seal($id, $progress);
                } finally {
                    WorkLocks::release($locks);
                }
            }
            $progress->advance(1);
        }
    }

    /** What is sealed stays so, and what is not is as it was. */
    public function undo(Run $run): Undone
    {
        return new Undone();
    }

    /** @return list<string> ids of kept backups that lie open, but for those that were found broken */
    public function toSeal(): array
    {
        return array_values(array_filter($this->vault->lyingOpen(), function (string $id): bool {
            $backup = $this->entities->find(Backup::class, $id);

            return null !== $backup && $backup->isKept() && null === $backup->trouble();
        }));
    }

    private function seal(string $id, Progress $progress): void
    {
        try {
            $this->vault->seal($id, new StopsAlone($progress));
        } catch (UnusableInput|DiskFailure $broken) {
            // It stays as it lies, and a person is called.
            $params = $this->data->withoutPlace($broken->fields);
            $this->records->change(fn () => $this->entities->find(Backup::class, $id)?->verified(
                $this->clock->now(), $broken->reason, $params,
            ));
        }
    }

    /** @return list<LockInterface> of whoever may read it or take it away */
    private function locksOf(Backup $backup): array
    {
        $dql = 'SELECT m FROM '.Move::class.' m WHERE m.tray = :tray OR EXISTS ('
            .'SELECT b FROM '.Bringing::class.' b WHERE b.move = m AND b.backup = :backup)';
        /** @var list<Move> $moves */
        $moves = $this->entities->createQuery($dql)
            ->setParameters(['tray' => $backup->tray, 'backup' => $backup])->getResult();

        return [
            $this->locks->ofErasing($backup->tray->number), ...array_map($this->locks->ofMove(...), $moves),
        ];
    }
}
