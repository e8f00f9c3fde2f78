<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;
use Geschenk\Core\Arrival\Totals;
use Geschenk\Core\Conversion\Loss;
use Geschenk\Core\Conversion\Scope;
use Geschenk\Core\Merge\MergeReport;
use Geschenk\Core\Phone\Role;

/**
 * The way of one account from the phone that gives to the phone that receives: backed up, looked at, converted,
 * restored, checked; or only the first of these. How far it is stands here and in the records it points to, and in no
 * file.
 *
 * @phpstan-import-type LossArray from Loss
 * @phpstan-import-type TotalsArray from Totals
 * @phpstan-import-type ScopeArray from Scope
 * @phpstan-import-type MergeArray from MergeReport
 *
 * @phpstan-type NamesBrought array{brought: int, there: int, nameless: int, unreadable: int}
 * @phpstan-type Brings array{messages: int, bytes: int, left_out: int, without_file: int}
 * @phpstan-type Rehearsal array{
 *     choices: array<string, string>, scope?: ScopeArray|null, judged_at: int, backup: string, platform: string,
 *     bytes?: int, merged_with?: string|null, merged_mark?: string|null,
 *     merge?: MergeArray|null, plan?: string|null,
 *     losses: list<LossArray>, attachments_absent: int, totals: TotalsArray,
 * }
 */
#[ORM\Entity]
#[ORM\UniqueConstraint(columns: ['tray_id', 'place'])]
class Move
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    private ?int $id = null;

    /** @var array<string, string> what was chosen where a loss leaves a choice, by rule */
    #[ORM\Column(type: 'json')]
    private array $choices = [];

    /** @var ScopeArray|null what is left out on purpose; null brings everything */
    #[ORM\Column(type: 'json', nullable: true)]
    private ?array $scope = null;

    /** @var Brings|null what that brings of the backup that counts; null while nobody has counted */
    #[ORM\Column(type: 'json', nullable: true)]
    private ?array $brings = null;

    /** Whether it is merged with what the receiving phone holds, and does not replace it. */
    #[ORM\Column]
    private bool $merges = false;

    /** Whether it was restored, and what is missing there is brought behind it. */
    #[ORM\Column]
    private bool $bringsMissing = false;

    #[ORM\Column]
    private bool $namesWanted = false;

    /** @var NamesBrought|null what became of people's names at the last restore */
    #[ORM\Column(type: 'json', nullable: true)]
    private ?array $namesBrought = null;

    /** @var array{run: string, brought: int, there: int, nameless: int, unreadable: int}|null names on their way */
    #[ORM\Column(type: 'json', nullable: true)]
    private ?array $namesBringing = null;

    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $leftOutAt = null;

    /** The run that was asked for last. */
    #[ORM\OneToOne, ORM\JoinColumn(nullable: true)]
    private ?Run $run = null;

    /** The backup that is brought across. */
    #[ORM\ManyToOne, ORM\JoinColumn(nullable: true)]
    private ?Backup $backup = null;

    /** @var Rehearsal|null what the conversion was made with and of, and how its rehearsal tallied */
    #[ORM\Column(type: 'json', nullable: true)]
    private ?array $rehearsal = null;

    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $restoredAt = null;

    /** What the phone that receives held before it was written to; it can be put back from that. */
    #[ORM\ManyToOne, ORM\JoinColumn(nullable: true)]
    private ?Backup $safetyCopy = null;

    /**
     * @var list<string> ids of the safety copies that it was merged with, in that order: what the phone held then stays
     *                   expected there, whatever is brought next
     */
    #[ORM\Column(type: 'json')]
    private array $keeps = [];

    /** @var array<string, array{at: int, by: string, check: int}> what eyes compared since a check; at: s since 1970 */
    #[ORM\Column(type: 'json')]
    private array $eyes = [];

    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $putBackAt = null;

    /** The last of the arrival checks. */
    #[ORM\OneToOne, ORM\JoinColumn(name: 'check_id', nullable: true)]
    private ?Check $check = null;

    public function __construct(
        #[ORM\ManyToOne(inversedBy: 'moves'), ORM\JoinColumn(nullable: false)] public readonly Tray $tray,
        /** from 1, in the order in which the tray's moves are shown */
        #[ORM\Column] public readonly int $place,
        /** id of the app on the phones */
        #[ORM\Column(length: 40)] public readonly string $app,
        /** what people call the app */
        #[ORM\Column(length: 60)] public readonly string $edition,
    ) {
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The move is not stored yet.');
    }

    public function from(): TrayPhone
    {
        return $this->tray->phone(Role::Gives);
    }

    /** @throws \LogicException where it is only backed up */
    public function to(): TrayPhone
    {
        return $this->tray->phone(Role::Receives);
    }

    public function choose(string $rule, string $choice): void
    {
        $this->choices = [...$this->choices, $rule => $choice];
    }

    /** @return array<string, string> */
    public function choices(): array
    {
        return $this->choices;
    }

    /**
     * What was converted of another choice counts no more.
     *
     * @param ScopeArray|null $scope null for everything
     * @param Brings          $brings
     */
    public function bring(?array $scope, array $brings, bool $merges): void
    {
        if ([$scope, $merges] !== [$this->scope, $this->merges]) {
            $this->rehearsal = null;
        }
        [$this->scope, $this->brings, $this->merges] = [$scope, $brings, $merges];
        $this->bringsMissing = $this->bringsMissing && $merges;
    }

    /** @return ScopeArray|null */
    public function scope(): ?array
    {
        return $this->scope;
    }

    /** @return Brings|null */
    public function brings(): ?array
    {
        return $this->brings;
    }

    public function merges(): bool
    {
        return $this->merges;
    }

    /** Whether people's names are brought into the receiving phone's address book too. */
    public function wantNames(bool $isWanted): void
    {
        $this->namesWanted = $isWanted;
    }

    public function wantsNames(): bool
    {
        return $this->namesWanted;
    }

    /**
     * Names are about to be put on the phone by a run.
     *
     * @param NamesBrought $names
     */
    public function bringsNames(string $run, array $names): void
    {
        $this->namesBringing = ['run' => $run] + $names;
    }

    /**
     * Names stay on the phone: those of an earlier restore are there by now, and were brought all the same.
     *
     * @param NamesBrought|null $names null where the phone lets nobody at its address book
     *
     * @return NamesBrought|null what this run brought, all its beginnings together
     */
    public function broughtNames(string $run, ?array $names): ?array
    {
        if (null === $names) {
            return null;
        }
        $begun = $this->namesBringing;
        if (null !== $begun && $begun['run'] === $run && 0 === $names['brought']) {
            // An earlier beginning of the run put them there, and was interrupted before it could say so.
            unset($begun['run']);
            $names = $begun;
        }
        $this->namesBringing = null;
        $before = $this->namesBrought['brought'] ?? 0;
        $this->namesBrought = [
            'brought' => $names['brought'] + $before, 'there' => max(0, $names['there'] - $before),
        ] + $names;

        return $names;
    }

    /** @return NamesBrought|null */
    public function namesBrought(): ?array
    {
        return $this->namesBrought;
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

    public function backedUp(Backup $backup): void
    {
        $this->backup = $backup;
        $this->rehearsal = null;
        $this->brings = null;
    }

    public function backup(): ?Backup
    {
        return $this->backup;
    }

    /**
     * What was planned for the other direction counts no more.
     *
     * @param Backup|null $backup of the phone that gives now
     */
    public function turnRound(?Backup $backup, \DateTimeImmutable $at): void
    {
        $this->run?->isFollowed($at);
        $this->backup = $backup;
        $this->rehearsal = null;
        $this->run = null;
        $this->scope = $this->brings = null;
        $this->merges = $this->namesWanted = false;
        $this->namesBrought = null;
    }

    /** @param Rehearsal|null $rehearsal null while a conversion is made anew */
    public function rehearsed(?array $rehearsal): void
    {
        $this->rehearsal = $rehearsal;
    }

    /** @return Rehearsal|null */
    public function rehearsal(): ?array
    {
        return $this->rehearsal;
    }

    /** Whether what was rehearsed is what is chosen now. */
    public function isAsChosen(): bool
    {
        return null !== $this->rehearsal && $this->rehearsal['choices'] === $this->choices
            && ($this->rehearsal['scope'] ?? null) === $this->scope
            && (null !== ($this->rehearsal['merged_with'] ?? null)) === $this->merges;
    }

    /** Whether the rehearsal tallied, with what is chosen now and the backup that counts now. */
    public function isRehearsed(): bool
    {
        return null !== $this->rehearsal && $this->rehearsal['totals']['complete'];
    }

    /** @param Backup|null $safetyCopy null of one that was under way when nothing was kept yet */
    public function restored(\DateTimeImmutable $at, ?Backup $safetyCopy): void
    {
        $this->restoredAt = $at;
        $this->safetyCopy = $this->wayBack($safetyCopy);
        $merged = $this->rehearsal['merged_with'] ?? null;
        $this->keeps = array_values(array_unique([
            ...($this->bringsMissing ? $this->keeps : []), ...(null === $merged ? [] : [$merged]),
        ]));
        $this->bringsMissing = false;
    }

    /**
     * What the phone is put back to, should it be.
     *
     * @param Backup|null $safetyCopy of this restore: where what was missing is brought, the way leads to before the
     *                                first one still
     */
    public function wayBack(?Backup $safetyCopy): ?Backup
    {
        return $this->bringsMissing ? $this->safetyCopy ?? $safetyCopy : $safetyCopy;
    }

    /** @return list<string> ids of the safety copies whose chats are expected on the phone, too */
    public function keeps(): array
    {
        return $this->keeps;
    }

    /** What the record tells stays; who somebody wrote with is no longer told by it. */
    public function forgetWithWhom(): void
    {
        if (null !== $this->scope) {
            $this->scope = ['conversations' => array_fill(0, count($this->scope['conversations']), '')] + $this->scope;
            unset($this->scope['trial']);
        }
        if (null !== $this->rehearsal) {
            $this->rehearsal = [
                'losses' => array_map(
                    static fn (array $loss): array => ['example' => null] + $loss, $this->rehearsal['losses'],
                ),
                'scope' => $this->scope,
            ] + $this->rehearsal;
        }
    }

    /** What a check found missing is brought: merged with what is there, the backup's state counting. */
    public function bringMissing(): void
    {
        $this->bringsMissing = $this->merges = true;
        $this->rehearsal = $this->restoredAt = $this->check = null;
    }

    /** Whether a part is brought first, to see that all goes well. */
    public function isTrial(): bool
    {
        return isset($this->scope['trial']);
    }

    /**
     * What comes on top of a trial, merged with what it has brought.
     *
     * @param ScopeArray|null $scope null for everything
     * @param Brings          $brings
     */
    public function bringRest(?array $scope, array $brings): void
    {
        $this->bringMissing();
        [$this->scope, $this->brings] = [$scope, $brings];
    }

    public function bringsMissing(): bool
    {
        return $this->bringsMissing;
    }

    public function safetyCopy(): ?Backup
    {
        return $this->safetyCopy;
    }

    /**
     * The phone that receives is as it was before: nothing is there any more of what was brought, and checked. Behind
     * the hand-over the check stays, for it was handed over with it.
     */
    public function putBack(\DateTimeImmutable $at): void
    {
        $this->restoredAt = null;
        $this->keeps = [];
        $this->namesBrought = null;
        if ($this->bringsMissing) {
            $this->bringsMissing = $this->merges = false;
            $this->rehearsal = null;
        }
        if (null === $this->tray->closedAt()) {
            $this->check = null;
            // It was merged with what lies there anew: converted once more it is of that, and nothing has come in.
            $this->rehearsal = $this->merges ? null : $this->rehearsal;
        } else {
            $this->putBackAt = $at;
        }
    }

    /** When the phone was put back behind the hand-over. */
    public function putBackAt(): ?\DateTimeImmutable
    {
        return $this->putBackAt;
    }

    /** The tray was opened anew: its backup is converted and restored once more. Checks that were made are kept. */
    public function bringOnceMore(\DateTimeImmutable $at): void
    {
        $this->run?->isFollowed($at);
        $this->rehearsal = $this->restoredAt = $this->check = $this->putBackAt = $this->run = null;
        $this->keeps = [];
        $this->namesBrought = null;
    }

    public function restoredAt(): ?\DateTimeImmutable
    {
        return $this->restoredAt;
    }

    /** @param string $what of EyeCheck */
    public function compared(string $what, \DateTimeImmutable $at, string $by, bool $isSame): void
    {
        $check = $this->check ?? throw new \LogicException('Nothing was checked.');
        $this->eyes = array_diff_key($this->eyes, [$what => 0]);
        if ($isSame) {
            $this->eyes[$what] = ['at' => $at->getTimestamp(), 'by' => $by, 'check' => $check->id()];
        }
    }

    /** @return array<string, array{at: int, by: string, check: int}> of the newest check; at: s since 1970 UTC */
    public function eyes(): array
    {
        return array_filter($this->eyes, fn (array $eye): bool => $eye['check'] === $this->check?->id());
    }

    public function checked(Check $check): void
    {
        $this->check = $check;
    }

    public function check(): ?Check
    {
        return $this->check;
    }

    /** Whether nothing is left to do for it: it has arrived, or is backed up and nothing more was wanted. */
    public function isDone(): bool
    {
        return $this->tray->onlyBacksUp() ? null !== $this->backup : $this->hasArrived();
    }

    /** Whether all that was meant to arrive was found there; of a trial there is more to come. */
    public function hasArrived(): bool
    {
        return true === $this->check?->isComplete() && !$this->isTrial();
    }
}
