<?php

declare(strict_types=1);

namespace Geschenk\App\Tray;

use Doctrine\ORM\EntityManagerInterface;
use Doctrine\ORM\QueryBuilder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Bringing;
use Geschenk\App\Entity\Tray;

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
        $found = $this->entities->createQueryBuilder()->select('b', 't')->from(Backup::class, 'b')->join('b.tray', 't')
            ->where('b.isSafetyCopy = false AND b.eraseAskedAt IS NULL AND t.closedAt IS NOT NULL')
            ->orderBy('b.counter', 'DESC')->setMaxResults($most);
        if (0 !== $behind) {
            $found->andWhere('b.counter < :behind')->setParameter('behind', $behind);
        }
        foreach ((array) preg_split('/\s+/u', trim($words), -1, \PREG_SPLIT_NO_EMPTY) as $n => $word) {
            $this->isOf($found, "w$n", (string) $word);
        }
        /** @var list<Backup> $backups */
        $backups = $found->getQuery()->getResult();

        return $backups;
    }

    /** Has only those found in whose record a word stands. */
    private function isOf(QueryBuilder $found, string $name, string $word): void
    {
        // SQLite tells capital letters from small ones beyond ASCII: all ways of writing are looked for.
        $ways = array_values(array_unique([
            $word, mb_strtolower($word), mb_strtoupper($word), mb_convert_case($word, \MB_CASE_TITLE),
        ]));
        $either = [];
        foreach ($ways as $way => $written) {
            foreach (['t.customer', 't.contact', 'b.account', 'b.edition'] as $where) {
                $either[] = sprintf("%s LIKE :%s_%d ESCAPE '!'", $where, $name, $way);
            }
            $like = strtr($written, ['!' => '!!', '%' => '!%', '_' => '!_']);
            $found->setParameter($name.'_'.$way, '%'.$like.'%');
        }
        if (1 === preg_match('/^\d{1,9}$/', $word)) {
            $either[] = 't.number = :'.$name.'_number';
            $found->setParameter($name.'_number', (int) $word);
        }
        $found->andWhere(implode(' OR ', $either));
    }

    /** In the caller's transaction: one that is kept, and can be brought. */
    public function get(string $id): ?Backup
    {
        $backup = $this->entities->find(Backup::class, $id);

        return true === $backup?->isKept() && !$backup->isSafetyCopy && null !== $backup->tray->closedAt()
            ? $backup
            : null;
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
