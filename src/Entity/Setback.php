<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/**
 * What stood in the way of a run, once each time: it waited for something to be put right, or it ended. What came of
 * it afterwards changes nothing here; the manager's figures are made of it, and so it tells of nobody.
 */
#[ORM\Entity]
#[ORM\Index(name: 'setback_at', columns: ['at'])]
class Setback
{
    /** A code, or what is stuck on a phone; whatever else is told may be a name. */
    private const HARMLESS = '/^([a-z][a-z_]*|\d{1,9}-[A-Z]{1,2})$/D';
    /** What is not told. */
    private const KEPT_BACK = '…';

    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    private ?int $id = null;

    /** @var array<string, string|int> what its sentence needs */
    #[ORM\Column(type: 'json')]
    public readonly array $params;

    /** @param array<string, string|int> $params */
    public function __construct(
        /** null for one that is of no move */
        #[ORM\ManyToOne, ORM\JoinColumn(nullable: true)] public readonly ?Move $move,
        #[ORM\Column] public readonly \DateTimeImmutable $at,
        /** of the run */
        #[ORM\Column(length: 20)] public readonly string $kind,
        #[ORM\Column(length: 60)] public readonly string $reason,
        array $params,
        /** whether the run ended there, until somebody had it go on */
        #[ORM\Column] public readonly bool $isEnd,
    ) {
        $this->params = array_map(static fn (string|int $value): string|int => match (true) {
            is_int($value), 1 === preg_match(self::HARMLESS, $value) => $value,
            default => self::KEPT_BACK,
        }, $params);
    }

    public function id(): ?int
    {
        return $this->id;
    }
}
