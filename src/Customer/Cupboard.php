<?php

declare(strict_types=1);

namespace Geschenk\App\Customer;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Query\QueryBuilder;
use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Shop;
use Psr\Clock\ClockInterface;
use Symfony\Component\Uid\Uuid;

/** Every backup that was made here, of whomever: found by what somebody knows of it. */
final readonly class Cupboard
{
    public const PAGE = 50;
    /** How long before its last day a backup is said to go soon. */
    private const SOON = '+7 days';
    private const WHOLE_COPY = 'there.backup_id = b.id AND there.gone_at IS NULL AND there.is_whole';
    private const COLUMNS = [
        'c.name', 'c.contact', 'b.account', 'b.edition', 'b.serial', 'b.note',
        "b.serial IN (SELECT p.serial FROM phone p WHERE JSON_EXTRACT(p.seen, '$.model') %s)",
    ];

    public function __construct(private EntityManagerInterface $entities, private ClockInterface $clock)
    {
    }

    /**
     * @param string $words      each of which is a day on which it was taken, written YYYY-MM-DD, the number of its
     *                           tray, or stands in the name or contact of its customer, the number of its account, the
     *                           messenger's name, or the phone's model or serial number
     * @param bool   $descending the largest, latest, last first
     * @param int    $page       from 1 on
     *
     * @return list<Backup>
     */
    public function find(string $words, Shown $shown, SortedBy $by, bool $descending, int $page): array
    {
        $found = $this->found($words)->select('b.id')->andWhere($shown->condition())
            ->setFirstResult(self::PAGE * ($page - 1))->setMaxResults(self::PAGE)
            ->orderBy($by->expression(), $descending ? 'DESC' : 'ASC')->addOrderBy('b.counter', 'DESC');
        /** @var list<string> $ids */
        $ids = $found->executeQuery()->fetchFirstColumn();
        $dql = 'SELECT b, t, c FROM '.Backup::class.' b JOIN b.tray t JOIN b.customer c WHERE b.id IN (:ids)';
        /** @var list<Backup> $backups */
        $backups = $this->entities->createQuery($dql)->setParameter('ids', $ids, ArrayParameterType::STRING)
            ->getResult();
        $places = array_flip($ids);
        usort($backups, static fn (Backup $a, Backup $b): int => $places[$a->id] <=> $places[$b->id]);

        return $backups;
    }

    /** @return array<string, int> how many are found by these words, by the value of what is shown */
    public function count(string $words): array
    {
        $found = $this->found($words);
        foreach (Shown::cases() as $shown) {
            $found->addSelect("COUNT(*) FILTER (WHERE {$shown->condition()}) AS {$shown->value}");
        }
        /** @var array<string, int> $counts */
        $counts = $found->executeQuery()->fetchAssociative();

        return array_map(intval(...), $counts);
    }

    /** @return array{broken: int, due: int} what of it calls somebody; asked each second, so of nobody's name */
    public function calls(): array
    {
        $found = $this->entities->getConnection()->createQueryBuilder()->from('backup', 'b')
            ->join('b', 'tray', 't', 't.id = b.tray_id')
            ->setParameter('soon', $this->soon()->format('Y-m-d H:i:s'));
        foreach ([Shown::Broken, Shown::Due] as $shown) {
            $found->addSelect("COUNT(*) FILTER (WHERE {$shown->condition()}) AS {$shown->value}");
        }
        /** @var array{broken: int, due: int} $counts */
        $counts = $found->executeQuery()->fetchAssociative();

        return ['broken' => (int) $counts['broken'], 'due' => (int) $counts['due']];
    }

    public function isDue(Backup $backup): bool
    {
        $until = $backup->keptUntil();

        return null !== $until && null !== $backup->tray->closedAt() && $until <= $this->soon();
    }

    private function found(string $words): QueryBuilder
    {
        $found = $this->entities->getConnection()->createQueryBuilder()->from('backup', 'b')
            ->join('b', 'tray', 't', 't.id = b.tray_id')->join('b', 'customer', 'c', 'c.id = b.customer_id')
            // Where nobody asks for it SQLite leaves it out.
            ->leftJoin('b', 'placed_copy', 'there', self::WHOLE_COPY)
            ->setParameter('soon', $this->soon()->format('Y-m-d H:i:s'));
        $others = [];
        foreach ((array) preg_split('/\s+/u', trim($words), -1, \PREG_SPLIT_NO_EMPTY) as $n => $word) {
            if (Uuid::isValid((string) $word)) {
                // As it stands on what was laid out for paper.
                $found->andWhere("b.id = :id_$n")->setParameter("id_$n", strtolower((string) $word));
                continue;
            }
            $day = Shop::day((string) $word);
            if (null === $day) {
                $others[] = $word;
                continue;
            }
            $found->andWhere("b.taken_at >= :day_$n AND b.taken_at < :behind_$n")
                ->setParameter("day_$n", self::inUtc($day))
                ->setParameter("behind_$n", self::inUtc($day->modify('+1 day')));
        }
        FoundByWords::narrow($found, implode(' ', $others), self::COLUMNS, 't.number');

        return $found;
    }

    private function soon(): \DateTimeImmutable
    {
        return $this->clock->now()->modify(self::SOON);
    }

    private static function inUtc(\DateTimeImmutable $at): string
    {
        return $at->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d H:i:s');
    }
}
