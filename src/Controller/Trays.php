<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Tray;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;

/** Finds the tray, the move, the backup that an address names. */
final readonly class Trays
{
    /** The shelf shows so many, the newest. */
    private const SHELF = 200;

    public function __construct(private EntityManagerInterface $entities)
    {
    }

    public function get(int $number): Tray
    {
        return $this->entities->getRepository(Tray::class)->findOneBy(['number' => $number])
            ?? throw new NotFoundHttpException('no_such_tray');
    }

    public function move(int $number, int $place): Move
    {
        return $this->get($number)->move($place) ?? throw new NotFoundHttpException('no_such_move');
    }

    public function backup(int $number, int $place): Backup
    {
        return $this->move($number, $place)->backup() ?? throw new NotFoundHttpException('no_backup');
    }

    /**
     * In few queries, however many there are.
     *
     * @return list<Tray>
     */
    public function shelf(): array
    {
        $trays = $this->entities->getRepository(Tray::class)->findBy([], ['number' => 'DESC'], self::SHELF);
        $dql = 'SELECT t, p FROM '.Tray::class.' t JOIN t.phones p WHERE t IN (:trays)';
        $this->entities->createQuery($dql)->setParameter('trays', $trays)->getResult();
        $dql = 'SELECT t, m, r, b, c FROM '.Tray::class.' t LEFT JOIN t.moves m '
            .'LEFT JOIN m.run r LEFT JOIN m.backup b LEFT JOIN m.check c WHERE t IN (:trays)';
        $this->entities->createQuery($dql)->setParameter('trays', $trays)->getResult();

        return $trays;
    }
}
