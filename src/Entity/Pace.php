<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/** How fast one phase of a kind of run goes, as measured: on one phone and its cable, or on this computer. */
#[ORM\Entity]
class Pace
{
    /** How much a new measurement counts against what is known. */
    private const WEIGHT = 0.5;

    public function __construct(
        #[ORM\Id, ORM\Column(length: 20)] public readonly string $kind,
        #[ORM\Id, ORM\Column(length: 40)] public readonly string $phase,
        /** of the phone; '' for this computer */
        #[ORM\Id, ORM\Column(length: 40)] public readonly string $serial,
        /** bytes or messages */
        #[ORM\Column] private float $perSecond,
    ) {
    }

    public function perSecond(): float
    {
        return $this->perSecond;
    }

    public function measure(float $perSecond): void
    {
        $this->perSecond += self::WEIGHT * ($perSecond - $this->perSecond);
    }
}
