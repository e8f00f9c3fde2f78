<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/** Who saw or did what. Written once, never changed. */
#[ORM\Entity]
class LogEntry
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    private ?int $id = null;

    public function __construct(
        #[ORM\Column] public readonly \DateTimeImmutable $at,
        #[ORM\Column(name: 'done_by', length: 60)] public readonly string $by,
        #[ORM\Column(length: 40)] public readonly string $act,
        #[ORM\Column(nullable: true)] public readonly ?int $trayNumber,
        #[ORM\Column(length: 500)] public readonly string $detail,
    ) {
    }

    public function id(): ?int
    {
        return $this->id;
    }
}
