<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/** The clock on the wall as the watch saw it last, beside the machine's own time. There is one. */
#[ORM\Entity]
class ClockSeen
{
    public const ID = 1;

    #[ORM\Id, ORM\Column]
    public readonly int $id;

    /** What the clock should have told when it was found to tell something else; null while it is not in doubt. */
    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $shouldBe = null;

    /** What it told then. */
    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $told = null;

    public function __construct(
        #[ORM\Column] private \DateTimeImmutable $at,
        /** start of the computer, as its kernel names it */
        #[ORM\Column(length: 60)] private string $boot,
        /** seconds since that start */
        #[ORM\Column] private float $uptime,
    ) {
        $this->id = self::ID;
    }

    public function see(\DateTimeImmutable $at, string $boot, float $uptime): void
    {
        [$this->at, $this->boot, $this->uptime] = [$at, $boot, $uptime];
    }

    public function at(): \DateTimeImmutable
    {
        return $this->at;
    }

    public function boot(): string
    {
        return $this->boot;
    }

    public function uptime(): float
    {
        return $this->uptime;
    }

    public function doubt(\DateTimeImmutable $shouldBe, \DateTimeImmutable $told): void
    {
        $this->shouldBe ??= $shouldBe;
        $this->told = $told;
    }

    public function trust(): void
    {
        $this->shouldBe = $this->told = null;
    }

    public function shouldBe(): ?\DateTimeImmutable
    {
        return $this->shouldBe;
    }

    public function told(): ?\DateTimeImmutable
    {
        return $this->told;
    }
}
