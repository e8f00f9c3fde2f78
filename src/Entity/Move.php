<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\Common\Collections\ArrayCollection;
use Doctrine\Common\Collections\Collection;
use Doctrine\ORM\Mapping as ORM;
use Geschenk\Core\Conversion\Scope;
use Geschenk\Core\Phone\Role;

/**
 * The way of one account from the phone that gives to the phone that receives, or only into a backup: the account, each
 * time that something of it was brought, and what is under way. Where it stands is where its newest bringing stands.
 *
 * @phpstan-import-type ScopeArray from Scope
 * @phpstan-import-type Brings from Bringing
 */
#[ORM\Entity]
#[ORM\UniqueConstraint(columns: ['tray_id', 'place'])]
class Move
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    private ?int $id = null;

    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $leftOutAt = null;

    /** The run that was asked for last. */
    #[ORM\OneToOne, ORM\JoinColumn(nullable: true)]
    private ?Run $run = null;

    /** @var Collection<int, Bringing> */
    #[ORM\OneToMany(targetEntity: Bringing::class, mappedBy: 'move', cascade: ['persist'])]
    #[ORM\OrderBy(['number' => 'ASC'])]
    private Collection $bringings;

    /** @var Collection<int, StepTold> */
    #[ORM\OneToMany(targetEntity: StepTold::class, mappedBy: 'move', cascade: ['persist'], orphanRemoval: true)]
    #[ORM\OrderBy(['id' => 'ASC'])]
    private Collection $told;

    public function __construct(
        #[ORM\ManyToOne(inversedBy: 'moves'), ORM\JoinColumn(nullable: false)] public readonly Tray $tray,
        /** from 1, in the order in which the tray's moves are shown */
        #[ORM\Column] public readonly int $place,
        /** id of the app on the phones */
        #[ORM\Column(length: 40)] public readonly string $app,
        /** what people call the app */
        #[ORM\Column(length: 60)] public readonly string $edition,
    ) {
        $this->bringings = new ArrayCollection();
        $this->told = new ArrayCollection();
        $this->begins(Aim::Whole);
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The move is not stored yet.');
    }

    /** @throws \LogicException where a kept backup is brought */
    public function from(): TrayPhone
    {
        return $this->tray->phone(Role::Gives);
    }

    /** @throws \LogicException where it is only backed up */
    public function to(): TrayPhone
    {
        return $this->tray->phone(Role::Receives);
    }

    /** The newest: what is planned, or was done last. */
    public function bringing(): Bringing
    {
        $newest = $this->bringings->last();

        return false === $newest ? throw new \LogicException('A move has a bringing from the beginning.') : $newest;
    }

    /** @return list<Bringing> each time that something was brought, or is meant to be, in that order */
    public function bringings(): array
    {
        return array_values($this->bringings->toArray());
    }

    /** The backup that counts. */
    public function backup(): ?Backup
    {
        return $this->bringing()->backup();
    }

    /** @return list<StepTold> steps of its way in that somebody has told to be done, in that order */
    public function told(): array
    {
        return array_values($this->told->toArray());
    }

    public function tell(StepTold $step): void
    {
        $this->told->add($step);
    }

    /** It was not done after all. */
    public function takeBack(StepTold $step): void
    {
        $this->told->removeElement($step);
    }

    public function leaveOut(\DateTimeImmutable $at): void
    {
        $this->leftOutAt = $at;
    }

    public function takeUp(): void
    {
        $this->leftOutAt = null;
    }

    public function isLeftOut(): bool
    {
        return null !== $this->leftOutAt;
    }

    public function begin(Run $run): void
    {
        $this->run?->isFollowed($run->askedAt);
        $this->run = $run;
    }

    public function run(): ?Run
    {
        return $this->run;
    }

    /** Whether this is the newest run by now: its id, or "none". What two press at once is so done once. */
    public function isStill(?string $newest): bool
    {
        return null === $newest || ($this->run->id ?? 'none') === $newest;
    }

    /** Whether a run is under way, or waits. */
    public function isBusy(): bool
    {
        return null !== $this->run && !$this->run->state()->rests();
    }

    /**
     * What was planned for the other direction counts no more.
     *
     * @param Backup|null $backup of the phone that gives now
     */
    public function turnRound(?Backup $backup, \DateTimeImmutable $at): void
    {
        $this->endRun($at);
        $this->begins(Aim::Whole)->isOf($backup);
    }

    /** What a check found missing is brought: merged with what is there, the backup's state counting. */
    public function bringMissing(): void
    {
        $found = $this->bringing();
        $this->begins(Aim::Missing, $found)->choosesAs($found);
    }

    /**
     * What comes on top of a trial, merged with what it has brought.
     *
     * @param ScopeArray|null $scope null for everything
     * @param Brings          $brings
     */
    public function bringRest(?array $scope, array $brings): void
    {
        $trial = $this->bringing();
        $rest = $this->begins(Aim::Rest, $trial);
        $rest->choosesAs($trial);
        $rest->bring($scope, $brings, true);
    }

    /** The tray was opened anew: its backup is converted and restored once more. */
    public function bringOnceMore(\DateTimeImmutable $at): void
    {
        $this->endRun($at);
        $before = $this->bringing();
        $this->begins(Aim::OnceMore)->choosesAs($before);
    }

    /**
     * The phone that receives is as it was before. Behind the hand-over that was the last of it; before, what was
     * brought can be brought anew.
     */
    public function putBack(\DateTimeImmutable $at): void
    {
        $before = $this->bringing();
        $before->putBack($at);
        if (null === $this->tray->closedAt()) {
            $again = $this->begins(Aim::Whole);
            $again->choosesAs($before);
            if (null === $before->onTopOf) {
                $again->isRehearsedAs($before);
            }
        }
    }

    /** Whether nothing is left to do for it: it has arrived, or is backed up and nothing more was wanted. */
    public function isDone(): bool
    {
        return $this->tray->onlyBacksUp() ? null !== $this->backup() : $this->bringing()->hasArrived();
    }

    private function begins(Aim $aim, ?Bringing $onTopOf = null): Bringing
    {
        $bringing = new Bringing($this, count($this->bringings) + 1, $aim, $onTopOf);
        $this->bringings->add($bringing);

        return $bringing;
    }

    private function endRun(\DateTimeImmutable $at): void
    {
        $this->run?->isFollowed($at);
        $this->run = null;
    }
}
