<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/** What is set on a phone of a tray: as it was when the phone first showed it, and as it was seen last. */
#[ORM\Entity]
class SettingSeen
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    private ?int $id = null;

    #[ORM\Column]
    private int $now;

    /** When it was first seen to be another one; null when it never was. */
    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $switchedAt = null;

    /**
     * @param string $code    of Core\Phone\Switchable, or what a way in switches
     * @param string $app     id of the messenger that it belongs to; "" for the phone's own
     * @param int    $earlier 0 and 1 for off and on, s for the lock timer
     */
    public function __construct(
        #[ORM\ManyToOne, ORM\JoinColumn(name: 'phone_id', nullable: false)] public readonly TrayPhone $phone,
        #[ORM\Column(length: 40)] public readonly string $code,
        #[ORM\Column(length: 40)] public readonly string $app,
        #[ORM\Column] public readonly int $earlier,
    ) {
        $this->now = $earlier;
    }

    public function id(): ?int
    {
        return $this->id;
    }

    public function see(int $value, \DateTimeImmutable $at): void
    {
        $this->now = $value;
        if ($value !== $this->earlier) {
            $this->switchedAt ??= $at;
        }
    }

    public function now(): int
    {
        return $this->now;
    }

    public function wasSwitched(): bool
    {
        return null !== $this->switchedAt;
    }

    public function isBack(): bool
    {
        return $this->now === $this->earlier;
    }
}
