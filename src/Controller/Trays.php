<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Tray;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;

/** Finds the tray that an address names. */
final readonly class Trays
{
    public function __construct(private EntityManagerInterface $entities)
    {
    }

    public function get(int $number): Tray
    {
        return $this->entities->getRepository(Tray::class)->findOneBy(['number' => $number]) ?? throw new NotFoundHttpException(sprintf('There is no tray %d.', $number));
    }
}
