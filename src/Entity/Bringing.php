<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;
use Geschenk\Core\Arrival\Totals;
use Geschenk\Core\Conversion\Loss;
use Geschenk\Core\Conversion\Scope;
use Geschenk\Core\Merge\MergeReport;

/**
 * Once that something of a backup is brought onto a phone: what was chosen, how it was rehearsed, when it was put in
 * place, what the phone held before, how its checks came out, and when the phone was put back. Until it is in place it
 * is a plan, and can be changed; from then on it is only written on, and another one begins.
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
#[ORM\UniqueConstraint(columns: ['move_id', 'number'])]
class Bringing
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    private ?int $id = null;

    /** The backup that it is of; null while there is none. */
    #[ORM\ManyToOne, ORM\JoinColumn(nullable: true)]
    private ?Backup $backup = null;

    /** @var array<string, string> what was chosen where a loss leaves a choice, by rule */
    #[ORM\Column(type: 'json')]
    private array $choices = [];

    /** @var ScopeArray|null what is left out on purpose; null brings everything */
    #[ORM\Column(type: 'json', nullable: true)]
    private ?array $scope = null;

    /** @var Brings|null what that brings of the backup; null while nobody has counted */
    #[ORM\Column(type: 'json', nullable: true)]
    private ?array $brings = null;

    /** Whether it is merged with what the receiving phone holds, and does not replace it. */
    #[ORM\Column]
    private bool $merges = false;

    #[ORM\Column]
    private bool $namesWanted = false;

    /** @var NamesBrought|null what became of people's names, with what it is on top of */
    #[ORM\Column(type: 'json', nullable: true)]
    private ?array $namesBrought = null;

    /** @var array{run: string, brought: int, there: int, nameless: int, unreadable: int}|null names on their way */
    #[ORM\Column(type: 'json', nullable: true)]
    private ?array $namesBringing = null;

    /** @var Rehearsal|null what the conversion was made with and of, and how its rehearsal tallied */
    #[ORM\Column(type: 'json', nullable: true)]
    private ?array $rehearsal = null;

    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $restoredAt = null;

    /** What the phone that receives held before this one was put in place. */
    #[ORM\ManyToOne, ORM\JoinColumn(nullable: true)]
    private ?Backup $safetyCopy = null;

    /**
     * @var list<string> ids of the safety copies that it was merged with, and what it is on top of, in that order: what
     *                   the phone held then stays expected there
     */
    #[ORM\Column(type: 'json')]
    private array $keeps = [];

    /** The last of its arrival checks. */
    #[ORM\OneToOne, ORM\JoinColumn(name: 'check_id', nullable: true)]
    private ?Check $check = null;

    /** @var array<string, array{at: int, by: string, check: int}> what eyes compared since a check; at: s since 1970 */
    #[ORM\Column(type: 'json')]
    private array $eyes = [];

    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $putBackAt = null;

    /**
     * @param int       $number  from 1, in the order of the move's bringings
     * @param self|null $onTopOf what it completes: it is merged with that, and the way back leads to before it
     */
    public function __construct(
        #[ORM\ManyToOne(inversedBy: 'bringings'), ORM\JoinColumn(nullable: false)] public readonly Move $move,
        #[ORM\Column] public readonly int $number,
        #[ORM\Column(length: 20, enumType: Aim::class)] public readonly Aim $aim,
        #[ORM\ManyToOne(targetEntity: self::class), ORM\JoinColumn(nullable: true)]
        public readonly ?self $onTopOf = null,
    ) {
        $this->merges = null !== $onTopOf;
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The bringing is not stored yet.');
    }

    /** What was converted of another backup counts no more, nor what was counted in it. */
    public function isOf(?Backup $backup): void
    {
        $this->ensureChangeable();
        $this->backup = $backup;
        $this->rehearsal = $this->brings = null;
    }

    public function backup(): ?Backup
    {
        return $this->backup;
    }

    public function choose(string $rule, string $choice): void
    {
        $this->ensureChangeable();
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
        $this->ensureChangeable();
        if ([$scope, $merges] !== [$this->scope, $this->merges]) {
            $this->rehearsal = null;
        }
        [$this->scope, $this->brings, $this->merges] = [$scope, $brings, $merges];
    }

    /** Takes over what was chosen for an earlier one; how it is put on the phone is left to this one. */
    public function choosesAs(self $other): void
    {
        $this->backup = $other->backup;
        [$this->choices, $this->scope, $this->brings] = [$other->choices, $other->scope, $other->brings];
        $this->namesWanted = $other->namesWanted;
    }

    /** Takes over an earlier one's conversion too, which nothing on the phone has any part in. */
    public function isRehearsedAs(self $other): void
    {
        $this->merges = $other->merges;
        $this->rehearsal = $other->merges ? null : $other->rehearsal;
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

    /** Whether it completes what is on the phone already: merged with that, the backup's state counting. */
    public function completes(): bool
    {
        return null !== $this->onTopOf && $this->merges;
    }

    /** Whether a part is brought first, to see that all goes well. */
    public function isTrial(): bool
    {
        return isset($this->scope['trial']);
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
     * Names stay on the phone: those of an earlier bringing are there by now, and were brought all the same.
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
        $before = $this->onTopOf?->namesBrought()['brought'] ?? 0;
        $this->namesBrought = [
            'brought' => $names['brought'] + $before, 'there' => max(0, $names['there'] - $before),
        ] + $names;

        return $names;
    }

    /** @return NamesBrought|null those that are in the phone's address book by now */
    public function namesBrought(): ?array
    {
        return null === $this->putBackAt ? $this->namesBrought ?? $this->onTopOf?->namesBrought() : null;
    }

    /** @param Rehearsal|null $rehearsal null while a conversion is made anew */
    public function rehearsed(?array $rehearsal): void
    {
        $this->ensureChangeable();
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
        $this->ensureChangeable();
        $this->restoredAt = $at;
        $this->safetyCopy = $safetyCopy;
        $merged = $this->rehearsal['merged_with'] ?? null;
        $this->keeps = array_values(array_unique([
            ...$this->expectsBeside(), ...(null === $merged ? [] : [$merged]),
        ]));
    }

    /** When it was put in place, if it was; it may have been put back since. */
    public function restoredAt(): ?\DateTimeImmutable
    {
        return $this->restoredAt;
    }

    /** Whether it is on the phone that receives, by what was done here. */
    public function isInPlace(): bool
    {
        return null !== $this->restoredAt && null === $this->putBackAt;
    }

    /** Whether this one is on the phone that receives, or what it would complete. */
    public function isOnPhone(): bool
    {
        return $this->isInPlace() || (null === $this->putBackAt && true === $this->onTopOf?->isOnPhone());
    }

    /** What the phone held before this one was put in place. */
    public function safetyCopy(): ?Backup
    {
        return $this->safetyCopy;
    }

    /**
     * What the phone is put back to: what it held before the first of those that complete one another.
     *
     * @param Backup|null $safetyCopy of this one, while it is being put in place
     */
    public function wayBack(?Backup $safetyCopy = null): ?Backup
    {
        return $this->onTopOf?->wayBack() ?? $this->safetyCopy ?? $safetyCopy;
    }

    /** @return list<string> ids of the safety copies whose chats are expected on the phone, too */
    public function keeps(): array
    {
        return $this->keeps;
    }

    /** @return list<string> ids of those of them that what it is merged with has brought along */
    public function expectsBeside(): array
    {
        return $this->completes() ? $this->onTopOf->keeps ?? [] : [];
    }

    /** Whether somebody may need a safety copy of it still. */
    public function needs(Backup $copy): bool
    {
        return $this->safetyCopy === $copy || in_array($copy->id, $this->keeps, true)
            || ($this->rehearsal['merged_with'] ?? null) === $copy->id;
    }

    public function checked(Check $check): void
    {
        $this->check = $check;
    }

    public function check(): ?Check
    {
        return $this->check;
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

    /** Whether all that was meant to arrive was found there; of a trial there is more to come. */
    public function hasArrived(): bool
    {
        return true === $this->check?->isComplete() && !$this->isTrial();
    }

    /** The phone that receives is as it was before this one, and before those that it is on top of. */
    public function putBack(\DateTimeImmutable $at): void
    {
        $this->putBackAt ??= $at;
        $this->onTopOf?->putBack($at);
    }

    public function putBackAt(): ?\DateTimeImmutable
    {
        return $this->putBackAt;
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

    private function ensureChangeable(): void
    {
        if (null !== $this->restoredAt) {
            throw new \LogicException('What was put in place is not changed any more.');
        }
    }
}
