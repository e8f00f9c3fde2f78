<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A copy that lies at the second place: of a backup, of what a tray's work has left, or of the records. */
#[ORM\Entity]
class PlacedCopy
{
    /** When it was read back from there last. */
    #[ORM\Column]
    private \DateTimeImmutable $readAt;

    /** Whether it was whole then. */
    #[ORM\Column]
    private bool $isWhole = true;

    /** When the shop's own was put right with it last. */
    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $mendedAt = null;

    /** Since when it is gone from there, erased with what it is of. */
    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $goneAt = null;

    /** Since when nobody needs what it is of, and that has no record any more: it goes, and this with it. */
    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $droppedAt = null;

    public function __construct(
        /** that it has at the place: a backup's id, or another name */
        #[ORM\Id, ORM\Column(length: 40)] public readonly string $name,
        #[ORM\OneToOne, ORM\JoinColumn(nullable: true)] private ?Backup $backup,
        /** how what was copied lay; where it lies otherwise now, there is something to copy. Empty while it is begun */
        #[ORM\Column(length: 64)] private string $state,
        #[ORM\Column] private \DateTimeImmutable $placedAt,
        #[ORM\Column] private int $files,
        #[ORM\Column(type: 'bigint')] private int $bytes,
    ) {
        $this->readAt = $placedAt;
    }

    /** One of which something may lie there already, and which is none yet: it is known, so that it is erased. */
    public static function begun(string $name, ?Backup $backup, \DateTimeImmutable $at): self
    {
        $copy = new self($name, $backup, '', $at, 0, 0);
        $copy->isWhole = false;

        return $copy;
    }

    /** @return Backup|null null of what is no backup, or of one that was dropped */
    public function backup(): ?Backup
    {
        return $this->backup;
    }

    /** What it is of is dropped, record and all. */
    public function isDropped(\DateTimeImmutable $at): void
    {
        $this->backup = null;
        $this->droppedAt ??= $at;
    }

    /** Whether all of it was there once. */
    public function wasPlaced(): bool
    {
        return '' !== $this->state;
    }

    public function isPlaced(string $state, \DateTimeImmutable $at, int $files, int $bytes): void
    {
        [$this->state, $this->placedAt, $this->files, $this->bytes] = [$state, $at, $files, $bytes];
        [$this->readAt, $this->isWhole, $this->goneAt] = [$at, true, null];
    }

    public function state(): string
    {
        return $this->state;
    }

    public function placedAt(): \DateTimeImmutable
    {
        return $this->placedAt;
    }

    public function files(): int
    {
        return $this->files;
    }

    public function bytes(): int
    {
        return $this->bytes;
    }

    public function wasRead(\DateTimeImmutable $at, bool $isWhole): void
    {
        [$this->readAt, $this->isWhole] = [$at, $isWhole];
    }

    public function readAt(): \DateTimeImmutable
    {
        return $this->readAt;
    }

    public function isWhole(): bool
    {
        return $this->isWhole;
    }

    public function hasMended(\DateTimeImmutable $at): void
    {
        $this->mendedAt = $at;
    }

    public function mendedAt(): ?\DateTimeImmutable
    {
        return $this->mendedAt;
    }

    public function isGone(\DateTimeImmutable $at): void
    {
        $this->goneAt ??= $at;
    }

    public function goneAt(): ?\DateTimeImmutable
    {
        return $this->goneAt;
    }
}
