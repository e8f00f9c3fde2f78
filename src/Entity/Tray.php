<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\Common\Collections\ArrayCollection;
use Doctrine\Common\Collections\Collection;
use Doctrine\ORM\Mapping as ORM;
use Geschenk\Core\Phone\Role;

/**
 * One customer's job: its phones with their tags and roles, and a move for each account that goes across, or is only
 * backed up, or brought from a backup that is kept: then one phone is all there is.
 *
 * @phpstan-type Erased array{folders: list<array{id: string, kind: string, files: int, bytes: int}>}
 */
#[ORM\Entity]
class Tray
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    private ?int $id = null;

    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $closedAt = null;

    /** Behind the hand-over: what is kept of the chats is erased then. */
    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $keepUntil = null;

    /** Who said so, or had it erased at once. */
    #[ORM\Column(length: 60, nullable: true)]
    private ?string $eraseAskedBy = null;

    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $eraseAskedAt = null;

    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $erasedAt = null;

    #[ORM\Embedded(columnPrefix: 'over_')]
    private SeenOver $over;

    /** Whether it was ended without a hand-over. */
    #[ORM\Column]
    private bool $withdrawn = false;

    /** @var Erased|null what was erased */
    #[ORM\Column(type: 'json', nullable: true)]
    private ?array $erased = null;

    /** What it waits for, and since when; as the watch saw it last. */
    #[ORM\Column(length: 160, nullable: true)]
    private ?string $waitsMark = null;

    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $waitsSince = null;

    /** What a closed tray's sheet calls its customer, whatever is corrected when they come again. */
    #[ORM\Column(length: 200, nullable: true)]
    private ?string $nameOnSheet = null;

    /** When something was noted last. */
    #[ORM\Column]
    private \DateTimeImmutable $changedAt;

    /** @var Collection<int, TrayPhone> */
    #[ORM\OneToMany(targetEntity: TrayPhone::class, mappedBy: 'tray', cascade: ['persist'])]
    #[ORM\OrderBy(['tag' => 'ASC'])]
    private Collection $phones;

    /** @var Collection<int, Move> */
    #[ORM\OneToMany(targetEntity: Move::class, mappedBy: 'tray', cascade: ['persist'])]
    #[ORM\OrderBy(['place' => 'ASC'])]
    private Collection $moves;

    /** @var Collection<int, Step> */
    #[ORM\OneToMany(targetEntity: Step::class, mappedBy: 'tray', cascade: ['persist'])]
    #[ORM\OrderBy(['id' => 'ASC'])]
    private Collection $steps;

    public function __construct(
        #[ORM\Column(unique: true)] public readonly int $number,
        #[ORM\ManyToOne, ORM\JoinColumn] public readonly Customer $customer,
        #[ORM\Column] public readonly \DateTimeImmutable $openedAt,
        #[ORM\Column(length: 60)] public readonly string $openedBy,
        #[ORM\Column(length: 20, enumType: Errand::class)] public readonly Errand $errand = Errand::Move,
    ) {
        $this->over = new SeenOver();
        $this->changedAt = $openedAt;
        $this->phones = new ArrayCollection();
        $this->moves = new ArrayCollection();
        $this->steps = new ArrayCollection();
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The tray is not stored yet.');
    }

    public function customerName(): string
    {
        return $this->nameOnSheet ?? $this->customer->name();
    }

    public function forgetsCustomer(): void
    {
        $this->nameOnSheet = null;
    }

    public function addPhone(string $serial, Role $role): void
    {
        $tag = $this->number.'-'.chr(ord('A') + count($this->phones));
        $this->phones->add(new TrayPhone($this, $serial, $tag, $role));
    }

    /** @return list<TrayPhone> those that count, without one that another took the place of */
    public function phones(): array
    {
        return array_values($this->phones->filter(static fn (TrayPhone $p): bool => !$p->isReplaced())->toArray());
    }

    /** @throws \LogicException when the tray has none */
    public function phone(Role $role): TrayPhone
    {
        foreach ($this->phones() as $phone) {
            if ($phone->role() === $role) {
                return $phone;
            }
        }
        throw new \LogicException(sprintf('Tray %d has no phone that %s.', $this->number, $role->value));
    }

    /** @return array<string, string> of the phones that count, by their role */
    public function tags(): array
    {
        $tags = [];
        foreach ($this->phones() as $phone) {
            $tags[$phone->role()->value] = $phone->tag;
        }

        return $tags;
    }

    /** One that is or was in it, by its serial. */
    public function phoneOf(string $serial): ?TrayPhone
    {
        $last = $this->phones->filter(static fn (TrayPhone $p): bool => $p->serial === $serial)->last();

        return false === $last ? null : $last;
    }

    /** Whether one of its phones has that part. */
    public function has(Role $role): bool
    {
        return in_array($role, $this->errand->roles(), true);
    }

    public function onlyBacksUp(): bool
    {
        return !$this->has(Role::Receives);
    }

    /** Whether it goes from one phone to another: then their roles can be mistaken. */
    public function isBetweenPhones(): bool
    {
        return $this->has(Role::Gives) && $this->has(Role::Receives);
    }

    public function swapRoles(): void
    {
        foreach ($this->phones as $phone) {
            $phone->give(Role::Gives === $phone->role() ? Role::Receives : Role::Gives);
        }
    }

    /**
     * @param string $app    id of the app on the phone
     * @param string $edition the app's name
     */
    public function addMove(string $app, string $edition): Move
    {
        $move = new Move($this, count($this->moves) + 1, $app, $edition);
        $this->moves->add($move);

        return $move;
    }

    /** @return list<Move> all of them, those that were left out as well */
    public function allMoves(): array
    {
        return array_values($this->moves->toArray());
    }

    /** @return list<Move> without those that were left out */
    public function moves(): array
    {
        return array_values($this->moves->filter(static fn (Move $move): bool => !$move->isLeftOut())->toArray());
    }

    public function move(int $place): ?Move
    {
        foreach ($this->moves as $move) {
            if ($move->place === $place) {
                return $move;
            }
        }

        return null;
    }

    public function isBusy(): bool
    {
        foreach ($this->moves as $move) {
            if ($move->isBusy()) {
                return true;
            }
        }

        return false;
    }

    public function hasRestored(): bool
    {
        foreach ($this->moves as $move) {
            if ($move->bringing()->isOnPhone()) {
                return true;
            }
        }

        return false;
    }

    public function note(Step $step): void
    {
        $this->steps->add($step);
        $this->changedAt = $step->at;
    }

    /** @return list<Step> */
    public function steps(): array
    {
        return array_values($this->steps->toArray());
    }

    /** @param string $signature of what it waits for */
    public function waits(string $signature, \DateTimeImmutable $at): void
    {
        if ($signature !== $this->waitsMark) {
            $this->waitsMark = $signature;
            $this->waitsSince = $at;
        }
    }

    /** @return \DateTimeImmutable|null null when it was not seen yet that it waits for this */
    public function waitsSince(string $signature): ?\DateTimeImmutable
    {
        return $signature === $this->waitsMark ? $this->waitsSince : null;
    }

    public function changedAt(): \DateTimeImmutable
    {
        return $this->changedAt;
    }

    public function close(\DateTimeImmutable $at): void
    {
        $this->closedAt = $at;
        $this->nameOnSheet = $this->customer->name();
        foreach ($this->phones as $phone) {
            $phone->letGo();
        }
    }

    /** The customer has withdrawn, or the job ended without a hand-over. */
    public function withdraw(): void
    {
        $this->withdrawn = true;
    }

    public function isWithdrawn(): bool
    {
        return $this->withdrawn;
    }

    /** Opened anew behind the hand-over: its phones are held again. */
    public function reopen(): void
    {
        $this->withdrawn = false;
        $this->closedAt = $this->keepUntil = $this->eraseAskedBy = $this->nameOnSheet = null;
        foreach ($this->phones() as $phone) {
            $phone->hold();
        }
    }

    /** Another phone takes the place of the one that receives; its tag is a new one. */
    public function receiveOn(string $serial): void
    {
        $old = $this->phone(Role::Receives);
        $old->replace();
        $this->addPhone($serial, Role::Receives);
    }

    public function keep(\DateTimeImmutable $until, string $by): void
    {
        $this->keepUntil = $until;
        $this->eraseAskedBy = $by;
        $this->over->forget();
    }

    public function over(): SeenOver
    {
        return $this->over;
    }

    public function keepUntil(): ?\DateTimeImmutable
    {
        return $this->keepUntil;
    }

    public function askToErase(\DateTimeImmutable $at, string $by): void
    {
        $this->eraseAskedAt = $at;
        $this->eraseAskedBy = $by;
    }

    public function eraseAskedAt(): ?\DateTimeImmutable
    {
        return $this->eraseAskedAt;
    }

    /** Who has it erased, or said until when it is kept. */
    public function eraseBy(): string
    {
        return $this->eraseAskedBy ?? '';
    }

    /** @param Erased $erased what goes: told before the first of it is gone, and so known whatever comes between */
    public function erases(array $erased): void
    {
        $this->erased ??= $erased;
    }

    public function erased(\DateTimeImmutable $at): void
    {
        $this->erasedAt = $at;
    }

    public function erasedAt(): ?\DateTimeImmutable
    {
        return $this->erasedAt;
    }

    /** @return Erased|null what was erased, or is about to be */
    public function whatWasErased(): ?array
    {
        return $this->erased;
    }

    /** Whether there is anything still to put back from, or to bring once more. */
    public function keepsChats(): bool
    {
        return null === $this->eraseAskedAt;
    }

    public function closedAt(): ?\DateTimeImmutable
    {
        return $this->closedAt;
    }
}
