<?php

declare(strict_types=1);

namespace Geschenk\App\Log;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\LogEntry;
use Psr\Clock\ClockInterface;

/** Who saw and did what in the shop. */
final readonly class ShopLog
{
    public function __construct(private EntityManagerInterface $entities, private ClockInterface $clock)
    {
    }

    /**
     * The caller flushes, so that the entry and what it tells are stored together.
     *
     * @param array<string, string|int> $params
     */
    public function note(string $by, string $act, ?int $tray = null, array $params = []): void
    {
        $this->entities->persist(new LogEntry($this->clock->now(), $by, $act, $tray, $params));
    }
}
