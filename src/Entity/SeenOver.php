<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/**
 * Start of the computer, and seconds since then, when the time of something was first seen to be over: that it stays so
 * for a while is told by the machine's own time.
 */
#[ORM\Embeddable]
final class SeenOver
{
    #[ORM\Column(length: 60, nullable: true)]
    private ?string $boot = null;

    #[ORM\Column(nullable: true)]
    private ?float $uptime = null;

    public function forget(): void
    {
        $this->boot = $this->uptime = null;
    }

    /** @return float seconds of the machine's own time for which that has been seen */
    public function sinceFirst(string $boot, float $uptime): float
    {
        if ($boot !== $this->boot || $uptime < $this->uptime) {
            [$this->boot, $this->uptime] = [$boot, $uptime];
        }

        return $uptime - (float) $this->uptime;
    }
}
