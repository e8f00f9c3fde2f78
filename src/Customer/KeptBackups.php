<?php

declare(strict_types=1);

namespace Geschenk\App\Customer;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\BackupState;
use Geschenk\App\Entity\Bringing;
use Geschenk\App\Entity\Origin;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Refusal;

/** Backups that the shop keeps behind a hand-over: they can be brought onto a phone for as long as they are kept. */
final readonly class KeptBackups
{
    public const PAGE = 50;

    public function __construct(private EntityManagerInterface $entities)
    {
    }

    /**
     * The newest first.
     *
     * @param string $words   each of which stands in the customer's name or contact, the number of the account or of
     *                        the tray, or the app's name
     * @param int    $behind  counter of the last one that was told; 0 for the first page
     * @param int    $most    how many at most
     *
     * @return list<Backup>
     */
    public function find(string $words, int $behind = 0, int $most = self::PAGE): array
    {
        $found = $this->entities->createQueryBuilder()->select('b', 't', 'c')->from(Backup::class, 'b')
            ->join('b.tray', 't')->join('b.customer', 'c')
            ->where('b.origin = :origin AND b.eraseAskedAt IS NULL AND t.closedAt IS NOT NULL')
            ->setParameter('origin', Origin::Account)
            ->orderBy('b.counter', 'DESC')->setMaxResults($most);
        if (0 !== $behind) {
            $found->andWhere('b.counter < :behind')->setParameter('behind', $behind);
        }
        FoundByWords::narrow($found, $words, ['c.name', 'c.contact', 'b.account', 'b.edition'], 't.number');
        /** @var list<Backup> $backups */
        $backups = $found->getQuery()->getResult();

        return $backups;
    }

    /** In the caller's transaction: one that is kept, and can be brought. */
    public function get(string $id): ?Backup
    {
        $backup = $this->entities->find(Backup::class, $id);

        return true === $backup?->isKept() && !$backup->isSafetyCopy() && null !== $backup->tray->closedAt()
            ? $backup
            : null;
    }

    /** @throws Refusal when a tray that brings a kept one can't be opened for it */
    public static function ensureMayBring(Backup $backup): void
    {
        if (!$backup->isKept() || $backup->isSafetyCopy()) {
            throw Refusal::because('no_such_backup');
        }
        if (BackupState::Locked === $backup->state()) {
            throw Refusal::because('backup_locked');
        }
        if (null === $backup->tray->closedAt()) {
            throw Refusal::because('bring_after_hand_over', ['tray' => $backup->tray->number]);
        }
    }

    /** Whether nobody works with it: its own tray is closed, and no open one brings it. */
    public function isAtRest(Backup $backup): bool
    {
        return null !== $backup->tray->closedAt() && null === $this->workedWithBy($backup);
    }

    /** @return int|null number of an open tray that brings it */
    public function workedWithBy(Backup $backup): ?int
    {
        $dql = 'SELECT MIN(o.number) FROM '.Bringing::class.' g JOIN g.move m JOIN m.tray o '
            .'WHERE g.backup = :backup AND o.closedAt IS NULL';
        $number = $this->entities->createQuery($dql)->setParameter('backup', $backup)->getSingleScalarResult();

        return null === $number ? null : (int) $number;
    }

    /** @return int|null number of an open tray that brings a backup of this one */
    public function broughtBy(Tray $tray): ?int
    {
        $dql = 'SELECT MIN(o.number) FROM '.Bringing::class.' g JOIN g.backup b JOIN g.move m JOIN m.tray o '
            .'WHERE b.tray = :tray AND o <> :tray AND o.closedAt IS NULL';
        $number = $this->entities->createQuery($dql)->setParameter('tray', $tray)->getSingleScalarResult();

        return null === $number ? null : (int) $number;
    }
}
