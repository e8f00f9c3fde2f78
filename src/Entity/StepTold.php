<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/** Somebody has told that a step of a way in is done on the phone that gives, which shows nothing of it. */
#[ORM\Entity]
#[ORM\UniqueConstraint(columns: ['move_id', 'step'])]
class StepTold
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    private ?int $id = null;

    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $undoneAt = null;

    public function __construct(
        #[ORM\ManyToOne(inversedBy: 'told'), ORM\JoinColumn(nullable: false)] public readonly Move $move,
        /** name of a ToldStep */
        #[ORM\Column(length: 40)] public readonly string $step,
        /** whether it leaves something on the phone */
        #[ORM\Column] public readonly bool $isLeft,
        #[ORM\Column(name: 'told_at')] public readonly \DateTimeImmutable $at,
        #[ORM\Column(name: 'told_by', length: 60)] public readonly string $by,
    ) {
    }

    public function id(): ?int
    {
        return $this->id;
    }

    public function isUndone(\DateTimeImmutable $at): void
    {
        $this->undoneAt ??= $at;
    }

    /** Whether what it leaves on the phone is still there, as far as anybody has told. */
    public function isOpen(): bool
    {
        return $this->isLeft && null === $this->undoneAt;
    }
}
