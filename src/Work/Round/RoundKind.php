<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Round;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Run;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\KindOfShop;
use Geschenk\App\Runs\Undone;
use Geschenk\App\Work\StopsAlone;
use Geschenk\App\Work\Verification\ReadBack;
use Geschenk\App\WorkLocks;
use Geschenk\Core\Progress;

/**
 * Reads a share of all that is kept back, those first that nobody has read for longest: so each is read within some
 * nights. What was broken already is read too, in case it was mended; what is being erased is let go.
 */
final readonly class RoundKind implements KindOfShop
{
    /** Within so many rounds each is read once. */
    public const ROUNDS = 30;

    public function __construct(
        private EntityManagerInterface $entities,
        private ReadBack $readBack,
        private WorkLocks $locks,
        private ShopLog $log,
    ) {
    }

    public static function name(): string
    {
        return 'round';
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
        $before = $run->askedAt;
        $ids = $this->share($before);
        $progress->phase('round', count($ids));
        foreach ($ids as $id) {
            $backup = $this->entities->find(Backup::class, $id);
            $lock = null === $backup ? null : $this->locks->ofErasing($backup->tray->number);
            // Whoever has it reads it, or takes it away; a later round finds it.
            if (true === $lock?->acquire()) {
                try {
                    $this->readBack->do($id, new StopsAlone($progress), false);
                } finally {
                    $lock->release();
                }
            }
            $progress->advance(1);
        }
        $broken = $this->entities->createQuery(
            'SELECT COUNT(b) FROM '.Backup::class.' b WHERE b.verifiedAt >= :before AND b.trouble IS NOT NULL '
            .'AND b.eraseAskedAt IS NULL',
        )->setParameter('before', $before)->getSingleScalarResult();
        $this->log->note('bench', 'round_done', null, ['read' => count($ids), 'broken' => (int) $broken]);
    }

    /** It leaves nothing anywhere. */
    public function undo(Run $run): Undone
    {
        return new Undone();
    }

    /**
     * Those of a round that was begun at a moment: what it has read already, before it was killed, counts.
     *
     * @return list<string> ids of those that are still to be read
     */
    private function share(\DateTimeImmutable $begun): array
    {
        $kept = 'FROM '.Backup::class.' b WHERE b.eraseAskedAt IS NULL AND b.takenAt <= :begun';
        $all = (int) $this->entities->createQuery("SELECT COUNT(b) $kept")->setParameter('begun', $begun)
            ->getSingleScalarResult();
        $done = (int) $this->entities->createQuery("SELECT COUNT(b) $kept AND b.verifiedAt >= :begun")
            ->setParameter('begun', $begun)->getSingleScalarResult();
        $most = (int) ceil($all / self::ROUNDS) - $done;
        if ($most < 1) {
            return [];
        }
        /** @var list<string> $ids */
        $ids = $this->entities->createQuery(
            "SELECT b.id $kept AND b.verifiedAt < :begun ORDER BY b.verifiedAt ASC, b.counter ASC",
        )->setParameter('begun', $begun)->setMaxResults($most)->getSingleColumnResult();

        return $ids;
    }
}
