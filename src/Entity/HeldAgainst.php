<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/**
 * That a backup was held against an earlier one of the same account. What came of it lies sealed, and goes with either.
 */
#[ORM\Entity]
class HeldAgainst
{
    /** When what came of it was there. */
    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $madeAt = null;

    public function __construct(
        /** that of its run */
        #[ORM\Id, ORM\Column(length: 36)] public readonly string $id,
        #[ORM\ManyToOne, ORM\JoinColumn(nullable: false)] public readonly Backup $backup,
        #[ORM\ManyToOne, ORM\JoinColumn(nullable: false)] public readonly Backup $earlier,
        #[ORM\Column] public readonly \DateTimeImmutable $askedAt,
    ) {
    }

    public function made(\DateTimeImmutable $at): void
    {
        $this->madeAt = $at;
    }

    public function madeAt(): ?\DateTimeImmutable
    {
        return $this->madeAt;
    }
}
