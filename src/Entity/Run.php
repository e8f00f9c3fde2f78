<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;
use Geschenk\App\Work\RunKind;
use Geschenk\App\Work\RunState;

/** One piece of long work. Its progress columns are written by the worker while it goes. */
#[ORM\Entity]
class Run
{
    #[ORM\Column(length: 20, enumType: RunState::class)]
    private RunState $state = RunState::Queued;

    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $finishedAt = null;

    /** What stands in the way, for the technician; null when nothing does. */
    #[ORM\Column(length: 1000, nullable: true)]
    private ?string $trouble = null;

    /** How often a worker has begun it without coming to an end: one that kills workers is not begun for ever. */
    #[ORM\Column]
    private int $attempts = 0;

    /** For a run that waits for room: free bytes when there was none. */
    #[ORM\Column(type: 'bigint', nullable: true)]
    private ?int $freeWhenFull = null;

    /** Who has stopped it; a worker that is at it sees this at its next step. */
    #[ORM\Column(length: 60, nullable: true)]
    private ?string $stoppedBy = null;

    /** Opens a sealed backup; gone as soon as the run is over. */
    #[ORM\Column(length: 1000, nullable: true)]
    private ?string $lockedKey = null;

    #[ORM\Column(length: 40)]
    public string $phase = '';
    #[ORM\Column]
    public int $itemsDone = 0;
    #[ORM\Column]
    public int $itemsTotal = 0;
    #[ORM\Column(type: 'bigint')]
    public int $bytesDone = 0;
    #[ORM\Column(type: 'bigint')]
    public int $bytesTotal = 0;
    /** Unix time with fraction: when the phase began, and what of it was done before that. */
    #[ORM\Column]
    public float $phaseStartedAt = 0.0;
    #[ORM\Column(type: 'bigint')]
    public int $bytesBefore = 0;
    #[ORM\Column]
    public int $itemsBefore = 0;
    #[ORM\Column]
    public float $movedAt = 0.0;

    public function __construct(
        #[ORM\Id, ORM\Column(length: 36)] public readonly string $id,
        #[ORM\ManyToOne, ORM\JoinColumn(nullable: false)] public readonly Tray $tray,
        #[ORM\Column(length: 20, enumType: RunKind::class)] public readonly RunKind $kind,
        #[ORM\Column] public readonly \DateTimeImmutable $askedAt,
        #[ORM\Column(length: 60)] public readonly string $askedBy,
        /** For a restore: the tag that the technician typed. */
        #[ORM\Column(length: 20, nullable: true)] public readonly ?string $confirmedTag = null,
    ) {
    }

    public function state(): RunState
    {
        return $this->state;
    }

    public function trouble(): ?string
    {
        return $this->trouble;
    }

    public function freeWhenFull(): ?int
    {
        return $this->freeWhenFull;
    }

    public function attempts(): int
    {
        return $this->attempts;
    }

    public function stoppedBy(): ?string
    {
        return $this->stoppedBy;
    }

    public function lockedKey(): ?string
    {
        return $this->lockedKey;
    }

    /** @param string|null $key locked by KeySafe */
    public function keepKey(?string $key): void
    {
        $this->lockedKey = $key;
    }

    public function queue(): void
    {
        $this->state = RunState::Queued;
        $this->trouble = null;
        $this->finishedAt = null;
        $this->stoppedBy = null;
        $this->attempts = 0;
    }

    /** A worker begins; whatever end it comes to takes this back. */
    public function begin(): void
    {
        ++$this->attempts;
        $this->state = RunState::Working;
        $this->trouble = null;
    }

    public function stop(string $by, \DateTimeImmutable $at): void
    {
        $this->stoppedBy = $by;
        if (RunState::Working !== $this->state) {
            $this->fail(sprintf('Stopped by %s. Go on from where it was, or leave it.', $by), $at);
        }
    }

    public function work(): void
    {
        $this->state = RunState::Working;
        $this->trouble = null;
    }

    /** @param int|null $freeWhenFull free bytes of this computer's disk, when that is what it waits for */
    public function wait(string $trouble, ?int $freeWhenFull = null): void
    {
        $this->state = RunState::Waiting;
        $this->attempts = 0;
        $this->freeWhenFull = $freeWhenFull;
        $this->trouble = mb_substr($trouble, 0, 1000);
    }

    public function fail(string $trouble, \DateTimeImmutable $at): void
    {
        $this->state = RunState::Failed;
        $this->attempts = 0;
        $this->lockedKey = null;
        $this->trouble = mb_substr($trouble, 0, 1000);
        $this->finishedAt = $at;
    }

    public function finish(\DateTimeImmutable $at): void
    {
        $this->state = RunState::Done;
        $this->attempts = 0;
        $this->freeWhenFull = null;
        $this->lockedKey = null;
        $this->trouble = null;
        $this->finishedAt = $at;
    }

    public function finishedAt(): ?\DateTimeImmutable
    {
        return $this->finishedAt;
    }
}
