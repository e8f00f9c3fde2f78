<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\Common\Collections\ArrayCollection;
use Doctrine\Common\Collections\Collection;
use Doctrine\ORM\Mapping as ORM;
use Geschenk\Core\Phone\Role;

/** One customer's job. */
#[ORM\Entity]
class Tray
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    private ?int $id = null;

    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $closedAt = null;

    /** @var array<string, string> what was chosen where a loss leaves a choice, by rule */
    #[ORM\Column(type: 'json')]
    private array $choices = [];

    /** @var Collection<int, TrayPhone> */
    #[ORM\OneToMany(targetEntity: TrayPhone::class, mappedBy: 'tray', cascade: ['persist'])]
    #[ORM\OrderBy(['tag' => 'ASC'])]
    private Collection $phones;

    /** @var Collection<int, Step> */
    #[ORM\OneToMany(targetEntity: Step::class, mappedBy: 'tray', cascade: ['persist'])]
    #[ORM\OrderBy(['id' => 'ASC'])]
    private Collection $steps;

    public function __construct(
        #[ORM\Column(unique: true)] public readonly int $number,
        #[ORM\Column(length: 200)] public readonly string $customer,
        #[ORM\Column(length: 200)] public readonly string $contact,
        #[ORM\Column(length: 40)] public readonly string $app,
        #[ORM\Column] public readonly \DateTimeImmutable $openedAt,
        #[ORM\Column(length: 60)] public readonly string $openedBy,
    ) {
        $this->phones = new ArrayCollection();
        $this->steps = new ArrayCollection();
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The tray is not stored yet.');
    }

    public function addPhone(string $serial, Role $role): void
    {
        $tag = $this->number.'-'.chr(ord('A') + count($this->phones));
        $this->phones->add(new TrayPhone($this, $serial, $tag, $role));
    }

    /** @return list<TrayPhone> */
    public function phones(): array
    {
        return array_values($this->phones->toArray());
    }

    public function phone(Role $role): TrayPhone
    {
        foreach ($this->phones as $phone) {
            if ($phone->role() === $role) {
                return $phone;
            }
        }
        throw new \LogicException(sprintf('Tray %d has no phone that %s.', $this->number, $role->value));
    }

    public function swapRoles(): void
    {
        foreach ($this->phones as $phone) {
            $phone->give(Role::Gives === $phone->role() ? Role::Receives : Role::Gives);
        }
    }

    public function note(Step $step): void
    {
        $this->steps->add($step);
    }

    /** @return list<Step> */
    public function steps(): array
    {
        return array_values($this->steps->toArray());
    }

    public function choose(string $rule, string $choice): void
    {
        $this->choices = [...$this->choices, $rule => $choice];
    }

    /** @param array<string, string> $choices */
    public function chooseAll(array $choices): void
    {
        $this->choices = $choices;
    }

    /** @return array<string, string> */
    public function choices(): array
    {
        return $this->choices;
    }

    public function close(\DateTimeImmutable $at): void
    {
        $this->closedAt = $at;
    }

    public function closedAt(): ?\DateTimeImmutable
    {
        return $this->closedAt;
    }
}
