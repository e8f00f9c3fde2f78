<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Standing;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Entity\TrayPhone;

/** Many trays at once, in few queries however many there are. */
final readonly class Shelf
{
    public function __construct(private EntityManagerInterface $entities, private Phones $phones)
    {
    }

    /**
     * @param list<int> $ids
     *
     * @return list<Tray> with what was seen of their phones
     */
    public function some(array $ids): array
    {
        return [] === $ids
            ? []
            : $this->withPhones($this->gather($this->entities->getRepository(Tray::class)->findBy(['id' => $ids])));
    }

    /** @return list<Tray> those that are not handed over yet, the oldest first, with what was seen of their phones */
    public function open(): array
    {
        return $this->withPhones($this->gather(
            $this->entities->getRepository(Tray::class)->findBy(['closedAt' => null], ['number' => 'ASC']),
        ));
    }

    /**
     * @param list<Tray> $trays
     *
     * @return list<Tray>
     */
    private function withPhones(array $trays): array
    {
        $this->phones->gather(array_merge([], ...array_map(
            static fn (Tray $tray): array => array_map(static fn (TrayPhone $p): string => $p->serial, $tray->phones()),
            $trays,
        )));

        return $trays;
    }

    /**
     * @param list<Tray> $trays
     *
     * @return list<Tray> with all that their stage and what they wait for is told by
     */
    private function gather(array $trays): array
    {
        $dql = 'SELECT t, k, p FROM '.Tray::class.' t JOIN t.customer k JOIN t.phones p WHERE t IN (:trays)';
        $this->entities->createQuery($dql)->setParameter('trays', $trays)->getResult();
        $dql = 'SELECT t, m, r, g, b, c FROM '.Tray::class.' t LEFT JOIN t.moves m LEFT JOIN m.run r '
            .'LEFT JOIN m.bringings g LEFT JOIN g.backup b LEFT JOIN g.check c WHERE t IN (:trays) '
            .'ORDER BY m.place, g.number';
        $this->entities->createQuery($dql)->setParameter('trays', $trays)->getResult();

        return $trays;
    }
}
