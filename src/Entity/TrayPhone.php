<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;
use Geschenk\Core\Phone\Role;

/** A phone in a tray, with the tag that is stuck on it and the role it was given. */
#[ORM\Entity]
class TrayPhone
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    private ?int $id = null;

    /** While its tray is open. A unique index sees to it that no phone is held twice. */
    #[ORM\Column]
    private bool $held = true;

    #[ORM\Column]
    private bool $replaced = false;

    /** What it is called by its maker, as it was seen when its tray was ended; empty while nobody has seen that. */
    #[ORM\Column(length: 120, options: ['default' => ''])]
    private string $model = '';

    public function __construct(
        #[ORM\ManyToOne(inversedBy: 'phones'), ORM\JoinColumn(nullable: false)] public readonly Tray $tray,
        #[ORM\Column(length: 40)] public readonly string $serial,
        #[ORM\Column(length: 12)] public readonly string $tag,
        #[ORM\Column(length: 10, enumType: Role::class)] private Role $role,
    ) {
    }

    public function id(): ?int
    {
        return $this->id;
    }

    public function role(): Role
    {
        return $this->role;
    }

    public function give(Role $role): void
    {
        $this->role = $role;
    }

    public function letGo(): void
    {
        $this->held = false;
    }

    /** Another phone has taken its place. */
    public function replace(): void
    {
        $this->replaced = true;
        $this->held = false;
    }

    public function isReplaced(): bool
    {
        return $this->replaced;
    }

    public function wasSeenAs(string $maker, string $model): void
    {
        $this->model = mb_substr($maker.' '.$model, 0, 120);
    }

    public function model(): string
    {
        return $this->model;
    }

    public function hold(): void
    {
        $this->held = true;
    }

    public function isHeld(): bool
    {
        return $this->held;
    }
}
