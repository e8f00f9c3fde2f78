<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/** The place that copies of what the shop keeps are put to. There is one at most. */
#[ORM\Entity]
class SecondPlace
{
    public const ID = 1;

    #[ORM\Id, ORM\Column]
    public readonly int $id;

    /** Since when its mark lies there: from then on a place without that mark is another one. */
    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $since = null;

    /** When all was there last that was to be there. */
    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $completeAt = null;

    /** @param string $mark that it is known by: drawn here, and lying there */
    public function __construct(#[ORM\Column(length: 36)] public readonly string $mark)
    {
        $this->id = self::ID;
    }

    public function begun(\DateTimeImmutable $at): void
    {
        $this->since ??= $at;
    }

    public function since(): ?\DateTimeImmutable
    {
        return $this->since;
    }

    public function isComplete(\DateTimeImmutable $at): void
    {
        $this->completeAt = $at;
    }

    public function completeAt(): ?\DateTimeImmutable
    {
        return $this->completeAt;
    }
}
