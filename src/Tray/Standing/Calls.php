<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Standing;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Records;
use Psr\Clock\ClockInterface;

/** For the watch: writes down since when each tray waits for what it waits for, so that who waits longest is first. */
final readonly class Calls
{
    public function __construct(
        private EntityManagerInterface $entities,
        private Records $records,
        private Shelf $shelf,
        private TrayStatus $status,
        private ClockInterface $clock,
    ) {
    }

    /** Writes only when something has begun to wait for something else. */
    public function note(): void
    {
        foreach ($this->shelf->open() as $tray) {
            $signature = $this->status->waits($tray)->signature();
            if (null === $tray->waitsSince($signature)) {
                $id = $tray->id();
                $this->records->change(function () use ($id, $signature): void {
                    $this->entities->find(Tray::class, $id)?->waits($signature, $this->clock->now());
                });
            }
        }
    }
}
