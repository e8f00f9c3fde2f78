<?php

declare(strict_types=1);

namespace Geschenk\App\Work\SecondPlace;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\PlacedCopy;
use Geschenk\App\Records;
use Geschenk\Core\Archive\SealedVault;
use Geschenk\Core\Progress;
use Geschenk\Core\Seal\KeyFailure;
use Geschenk\Core\SecondPlace\PlaceCopies;
use Geschenk\Core\SecondPlace\PlaceFailure;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;

/** Puts a backup right, of which something is damaged or missing here, with what lies of it at the second place. */
final readonly class Mending
{
    public function __construct(
        private EntityManagerInterface $entities,
        private Records $records,
        private SealedVault $vault,
        private OurPlace $ours,
        private ClockInterface $clock,
        private LoggerInterface $logger,
    ) {
    }

    /** Whether it is kept, and there is anything to mend it with, as it stands in the records now. */
    public function has(string $id): bool
    {
        $dql = 'SELECT COUNT(c) FROM '.PlacedCopy::class.' c JOIN c.backup b WHERE c.name = :id AND c.state <> :begun '
            .'AND c.goneAt IS NULL AND b.eraseAskedAt IS NULL';

        return 0 !== (int) $this->entities->createQuery($dql)->setParameter('id', $id)->setParameter('begun', '')
            ->getSingleScalarResult();
    }

    /**
     * For whoever has it to himself, and verifies it behind that.
     *
     * @return int|null files that were brought; null where it can't be mended now
     */
    public function mend(string $id, Progress $progress): ?int
    {
        if (!$this->has($id)) {
            return null;
        }
        $files = 0;
        try {
            $copies = new PlaceCopies($this->ours->place());
            $key = $this->ours->key($id);
            $this->vault->mend($id, static function (string $folder, \Closure $isWanted) use (
                $copies, $id, $key, $progress, &$files,
            ): array {
                $files = count($copies->bring($id, $key, $folder, $progress, $isWanted));

                return $copies->paths($id, $key);
            });
        } catch (PlaceFailure|KeyFailure $failure) {
            $this->logger->warning('A backup could not be mended.', ['backup' => $id, 'exception' => $failure]);
            if ($failure instanceof PlaceFailure && $failure->isOfOneCopy()) {
                $this->records->change(
                    fn () => $this->entities->find(PlacedCopy::class, $id)?->wasRead($this->clock->now(), false),
                );
            }

            return null;
        }
        if ($this->wasDropped($id)) {
            // Meanwhile: nothing of it comes back for that.
            $this->vault->discard($id);

            return null;
        }

        return $files;
    }

    /** A backup's record goes with a safety copy that nobody needs, and never else. */
    private function wasDropped(string $id): bool
    {
        $dql = 'SELECT COUNT(b) FROM '.Backup::class.' b WHERE b.id = :id';

        return 0 === (int) $this->entities->createQuery($dql)->setParameter('id', $id)->getSingleScalarResult();
    }
}
