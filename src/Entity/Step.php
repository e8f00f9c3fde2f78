<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/**
 * Evidence on the run sheet: what was done in a stage, when and by whom. It holds a code with parameters; its words are
 * in translations/ under "step".
 */
#[ORM\Entity]
class Step
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    private ?int $id = null;

    /** @param array<string, string|int> $params */
    public function __construct(
        #[ORM\ManyToOne(inversedBy: 'steps'), ORM\JoinColumn(nullable: false)] public readonly Tray $tray,
        /** null for what belongs to the tray as a whole */
        #[ORM\ManyToOne, ORM\JoinColumn(nullable: true)] public readonly ?Move $move,
        #[ORM\Column(length: 20, enumType: Stage::class)] public readonly Stage $stage,
        #[ORM\Column] public readonly \DateTimeImmutable $at,
        #[ORM\Column(name: 'done_by', length: 60)] public readonly string $by,
        #[ORM\Column(length: 60)] public readonly string $code,
        #[ORM\Column(type: 'json')] public readonly array $params,
    ) {
    }

    public function id(): ?int
    {
        return $this->id;
    }
}
