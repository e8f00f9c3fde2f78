<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;
use Geschenk\Core\Arrival\Totals;

/**
 * One arrival check with its result. All are kept: a later one can be held against an earlier one. Its lines lie in a
 * file of its own, named after the run that made it.
 *
 * @phpstan-import-type TotalsArray from Totals
 */
#[ORM\Entity]
#[ORM\Table(name: 'arrival_check')]
class Check
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    private ?int $id = null;

    /** @var TotalsArray */
    #[ORM\Column(type: 'json')]
    private array $totals;

    public function __construct(
        #[ORM\ManyToOne, ORM\JoinColumn(nullable: false)] public readonly Bringing $bringing,
        #[ORM\Column(length: 36)] public readonly string $runId,
        #[ORM\Column] public readonly \DateTimeImmutable $at,
        #[ORM\Column(name: 'done_by', length: 60)] public readonly string $by,
        Totals $totals,
    ) {
        $this->totals = $totals->toArray();
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The check is not stored yet.');
    }

    public function move(): Move
    {
        return $this->bringing->move;
    }

    /** @return TotalsArray */
    public function totals(): array
    {
        return $this->totals;
    }

    public function isComplete(): bool
    {
        return $this->totals['complete'];
    }
}
