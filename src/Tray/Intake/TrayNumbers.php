<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Intake;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Tray;

/** The numbers that trays go by. */
final readonly class TrayNumbers
{
    private const FIRST = 41;

    public function __construct(private EntityManagerInterface $entities)
    {
    }

    /** In the caller's transaction. */
    public function next(): int
    {
        $dql = 'SELECT MAX(t.number) FROM '.Tray::class.' t';

        return max(self::FIRST, 1 + (int) $this->entities->createQuery($dql)->getSingleScalarResult());
    }
}
