<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/** What the shop usually leaves out; there is one at most. */
#[ORM\Entity]
class Habit
{
    public const ID = 1;

    #[ORM\Id, ORM\Column]
    public readonly int $id;

    /** @var list<string> of files */
    #[ORM\Column(type: 'json')]
    private array $groups = [];

    #[ORM\Column]
    private bool $archived = false;

    /** Conversations without a message. */
    #[ORM\Column]
    private bool $empty = false;

    /** Conversations in which nothing was said for so many months. */
    #[ORM\Column(nullable: true)]
    private ?int $quietMonths = null;

    public function __construct()
    {
        $this->id = self::ID;
    }

    /** @param list<string> $groups */
    public function keep(array $groups, bool $archived, bool $empty, ?int $quietMonths): void
    {
        [$this->groups, $this->archived, $this->empty, $this->quietMonths] = [$groups, $archived, $empty, $quietMonths];
    }

    /** @return array{groups: list<string>, archived: bool, empty: bool, quiet_months: int|null} */
    public function toArray(): array
    {
        return [
            'groups' => $this->groups, 'archived' => $this->archived, 'empty' => $this->empty,
            'quiet_months' => $this->quietMonths,
        ];
    }
}
