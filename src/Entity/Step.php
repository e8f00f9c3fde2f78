<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;
use Geschenk\App\Tray\Stage;

/** Evidence on the run sheet: what was done in a stage, when and by whom. */
#[ORM\Entity]
class Step
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    private ?int $id = null;

    public function __construct(
        #[ORM\ManyToOne(inversedBy: 'steps'), ORM\JoinColumn(nullable: false)] public readonly Tray $tray,
        #[ORM\Column(length: 20, enumType: Stage::class)] public readonly Stage $stage,
        #[ORM\Column] public readonly \DateTimeImmutable $at,
        #[ORM\Column(name: 'done_by', length: 60)] public readonly string $by,
        #[ORM\Column(length: 500)] public readonly string $text,
    ) {
    }

    public function id(): ?int
    {
        return $this->id;
    }
}
