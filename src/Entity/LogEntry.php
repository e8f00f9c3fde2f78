<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/** Who saw or did what. Written once, by ShopLog, and never changed. Its words are in translations/ under "log". */
#[ORM\Entity]
class LogEntry
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    private ?int $id = null;

    /** @param array<string, string|int> $params */
    public function __construct(
        #[ORM\Column] public readonly \DateTimeImmutable $at,
        #[ORM\Column(name: 'done_by', length: 60)] public readonly string $by,
        #[ORM\Column(length: 60)] public readonly string $act,
        #[ORM\Column(nullable: true)] public readonly ?int $trayNumber,
        #[ORM\Column(type: 'json')] public readonly array $params,
        #[ORM\Column(length: 64)] public readonly string $hash,
    ) {
    }

    public function id(): ?int
    {
        return $this->id;
    }
}
