<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;
use Geschenk\Core\Import\SeveralParts;
use Geschenk\Core\Transfer\Offer;
use Geschenk\Core\Transfer\RestoreRefused;
use Symfony\Component\Uid\Uuid;

/**
 * One piece of long work. Its progress columns are written by the worker while it goes.
 *
 * @phpstan-import-type Told from Offer
 */
#[ORM\Entity]
class Run
{
    /** Null where it is not of a move. */
    #[ORM\ManyToOne, ORM\JoinColumn]
    private ?Move $move = null;

    /** Null where it is not of a backup. */
    #[ORM\ManyToOne, ORM\JoinColumn]
    private ?Backup $backup = null;

    /** Null where it is not of a customer. */
    #[ORM\ManyToOne, ORM\JoinColumn]
    private ?Customer $customer = null;

    #[ORM\Column(length: 20, enumType: RunState::class)]
    private RunState $state = RunState::Queued;

    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $finishedAt = null;

    /** What stands in the way: a code of translations/ under "failure"; null when nothing does. */
    #[ORM\Column(length: 60, nullable: true)]
    private ?string $trouble = null;

    /** @var array<string, string|int> */
    #[ORM\Column(type: 'json')]
    private array $troubleParams = [];

    /** How often in a row its worker has died of it without getting on: one that kills them is not begun for ever. */
    #[ORM\Column]
    private int $attempts = 0;

    /** How far it was when its worker died last; the worker writes it. */
    #[ORM\Column(length: 120, nullable: true)]
    private ?string $diedAt = null;

    /** For a run that waits for room: free bytes when there was none. */
    #[ORM\Column(type: 'bigint', nullable: true)]
    private ?int $freeWhenFull = null;

    #[ORM\Column(length: 10, nullable: true, enumType: StopWish::class)]
    private ?StopWish $stopWish = null;

    /** Whose wish that is. */
    #[ORM\Column(length: 60, nullable: true)]
    private ?string $stoppedBy = null;

    /** Of the phone that it is at, whatever becomes of roles meanwhile; null when it is at none. */
    #[ORM\Column(length: 40, nullable: true)]
    private ?string $serial;

    /** Whether a cancelled run has left something on the phone, which was away. */
    #[ORM\Column]
    private bool $leftOnPhone = false;

    /** Opens a sealed backup; gone as soon as the run is over. */
    #[ORM\Column(length: 1000, nullable: true)]
    private ?string $lockedKey = null;

    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $keyAt = null;

    /** @var Told|null for a backup: the offer that is taken; null while the phone has shown none */
    #[ORM\Column(type: 'json', nullable: true)]
    private ?array $offer = null;

    /** Milliseconds that workers have been at it, those aside that were killed. */
    #[ORM\Column(type: 'bigint', options: ['default' => 0])]
    private int $workedMs = 0;

    /** What it waited for last, and where: begun anew, it may come to wait for the same at the same place. */
    #[ORM\Column(length: 160, nullable: true)]
    private ?string $hinderedAt = null;

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

    /**
     * @param Move|Backup|Customer|null $subject what it is of; null where that is the shop
     * @param TrayPhone|null            $phone   that it is at; null for none
     */
    public function __construct(
        #[ORM\Id, ORM\Column(length: 36)] public readonly string $id,
        /** goes up with every run of the shop: the order that no clock decides */
        #[ORM\Column(unique: true)] public readonly int $counter,
        Move|Backup|Customer|null $subject,
        /** name of a Kind */
        #[ORM\Column(length: 20)] public readonly string $kind,
        /** whether it stages something on the phone, that lies there until it is swapped in or removed */
        #[ORM\Column] public readonly bool $stages,
        ?TrayPhone $phone,
        #[ORM\Column] public readonly \DateTimeImmutable $askedAt,
        /** who works on it: whoever asked for it, or had it go on */
        #[ORM\Column(length: 60)] private string $askedBy,
        /** For a restore: the tag that the technician typed. */
        #[ORM\Column(length: 20, nullable: true)] public readonly ?string $confirmedTag = null,
        /** For a restore: how many messages are lost on the phone, as the technician saw it and agreed. */
        #[ORM\Column(nullable: true)] public readonly ?int $replaces = null,
        /** For a restore: how many messages on the phone can't be read, as the technician saw it and agreed. */
        #[ORM\Column(nullable: true)] public readonly ?int $unreadable = null,
    ) {
        match (true) {
            $subject instanceof Move => $this->move = $subject,
            $subject instanceof Backup => $this->backup = $subject,
            default => $this->customer = $subject,
        };
        $this->serial = $phone?->serial;
    }

    /** What it is of; null where that is the shop. */
    public function subject(): Move|Backup|Customer|null
    {
        return $this->move ?? $this->backup ?? $this->customer;
    }

    /** @throws \LogicException where it is of none */
    public function move(): Move
    {
        return $this->move ?? throw new \LogicException('The run is not of a move.');
    }

    /** @throws \LogicException where it is of none */
    public function backup(): Backup
    {
        return $this->backup ?? throw new \LogicException('The run is not of a backup.');
    }

    /** @throws \LogicException where it is of none */
    public function customer(): Customer
    {
        return $this->customer ?? throw new \LogicException('The run is not of a customer.');
    }

    /** Whether none has come after it: one of earlier days can neither go on nor be stopped. */
    public function isNewest(): bool
    {
        return null === $this->subject() || $this === $this->subject()->run();
    }

    /** The phone that it is at; null when it is at none. */
    public function phone(): ?TrayPhone
    {
        return null === $this->serial ? null : $this->move?->tray->phoneOf($this->serial);
    }

    public function serial(): ?string
    {
        return $this->serial;
    }

    /** Of what it keeps before it writes to a phone: found again by whoever goes on with it. */
    public function safetyCopyId(): string
    {
        return Uuid::v5(Uuid::fromString($this->id), 'safety copy')->toRfc4122();
    }

    public function state(): RunState
    {
        return $this->state;
    }

    public function askedBy(): string
    {
        return $this->askedBy;
    }

    public function trouble(): ?string
    {
        return $this->trouble;
    }

    /** @return array<string, string|int> */
    public function troubleParams(): array
    {
        return $this->troubleParams;
    }

    public function freeWhenFull(): ?int
    {
        return $this->freeWhenFull;
    }

    public function attempts(): int
    {
        return $this->attempts;
    }

    /** How far it was then: phase, items, bytes. */
    public function diedAt(): ?string
    {
        return $this->diedAt;
    }

    public function stopWish(): ?StopWish
    {
        return $this->stopWish;
    }

    /** Whether the phone was away when it was cancelled, and still holds what was copied to it. */
    public function hasLeftOnPhone(): bool
    {
        return $this->leftOnPhone;
    }

    public function takes(?Offer $offer): void
    {
        $this->offer = $offer?->told();
    }

    /** What is taken; null while the phone has shown nothing. */
    public function offer(): ?Offer
    {
        return null === $this->offer ? null : Offer::of($this->offer);
    }

    /** When it was told. */
    public function keyAt(): ?\DateTimeImmutable
    {
        return $this->keyAt;
    }

    public function lockedKey(): ?string
    {
        return $this->lockedKey;
    }

    /** @param string|null $key locked by KeySafe */
    public function keepKey(?string $key, \DateTimeImmutable $at): void
    {
        $this->lockedKey = $key;
        $this->keyAt = null === $key ? null : $at;
    }

    /** @param TrayPhone|null $phone that it is at now */
    public function goOn(string $by, ?TrayPhone $phone): void
    {
        $this->askedBy = $by;
        $this->serial = $phone?->serial;
        $this->state = RunState::Queued;
        $this->hinder(null);
        $this->finishedAt = null;
        $this->stopWish = $this->stoppedBy = $this->diedAt = null;
        $this->attempts = 0;
    }

    public function begin(): void
    {
        $this->state = RunState::Working;
        $this->hinder(null);
    }

    /** At once where it waits; a worker that is at it does it at its next step. */
    public function stop(StopWish $wish, string $by): void
    {
        [$this->stopWish, $this->stoppedBy] = [$wish, $by];
        if (RunState::Working !== $this->state) {
            $this->heed();
        }
    }

    /** Does what was wished. */
    public function heed(): void
    {
        $by = ['by' => $this->stoppedBy ?? ''];
        $this->attempts = 0;
        $this->lockedKey = null;
        if (StopWish::Cancel === $this->stopWish) {
            $this->state = RunState::Cancelling;
            $this->hinder(null);
        } else {
            $this->state = RunState::Paused;
            $this->hinder('paused', $by + ['kind' => $this->kind]);
        }
    }

    /**
     * @param int  $removed     bytes that it had copied and are gone
     * @param bool $leftOnPhone whether the phone was away and still holds some
     */
    public function cancelled(int $removed, bool $leftOnPhone, \DateTimeImmutable $at): void
    {
        $this->state = RunState::Cancelled;
        $this->leftOnPhone = $leftOnPhone;
        $this->finishedAt = $at;
        $this->hinder('cancelled', [
            'by' => $this->stoppedBy ?? '', 'removed_bytes' => $removed, 'removed' => $removed > 0 ? 'some' : 'nothing',
            'left' => $leftOnPhone ? 'on_phone' : 'nothing', 'tag' => $this->phone()->tag ?? '',
        ]);
    }

    /**
     * Another run takes its place, or the tray is handed over: it can't go on any more. What it may have staged on a
     * phone is removed as soon as that is there.
     */
    public function isFollowed(\DateTimeImmutable $at): void
    {
        if (RunState::Paused === $this->state || (RunState::Failed === $this->state && $this->stages)) {
            $this->stoppedBy = $this->askedBy;
            $this->cancelled(0, $this->stages, $at);
        }
    }

    public function phoneIsClean(): void
    {
        $this->leftOnPhone = false;
        $this->hinder('cancelled', ['left' => 'nothing'] + $this->troubleParams);
    }

    public function work(): void
    {
        $this->state = RunState::Working;
        $this->hinder(null);
    }

    /**
     * @param array<string, string|int> $params
     * @param int|null                  $freeWhenFull free bytes of this computer's disk, when that is what it waits for
     */
    public function wait(string $trouble, array $params = [], ?int $freeWhenFull = null): void
    {
        if (null !== $this->stopWish) {
            $this->heed();

            return;
        }
        $this->state = RunState::Waiting;
        $this->attempts = 0;
        $this->freeWhenFull = $freeWhenFull;
        $this->hinder($trouble, $params);
    }

    /** Whether what it waits for is something else than the last time, or it has got on since; told once. */
    public function isHinderedAnew(): bool
    {
        $before = $this->hinderedAt;
        $this->hinderedAt = implode(' ', [$this->trouble, $this->phase, $this->itemsDone, $this->bytesDone]);

        return RunState::Waiting === $this->state && $before !== $this->hinderedAt;
    }

    /** Whether it stands still, and going on from there can help. */
    public function canGoOn(): bool
    {
        return $this->state->canGoOn() && !in_array($this->trouble, RestoreRefused::ASK_ANEW, true);
    }

    /** Whether that is in question where it stands now. */
    public function may(RunAct $act): bool
    {
        return match ($act) {
            RunAct::GoOn => $this->canGoOn(),
            RunAct::Pause => !$this->state->rests() && RunState::Cancelling !== $this->state,
            RunAct::Cancel => !$this->state->isOver() && RunState::Cancelling !== $this->state,
        };
    }

    /** @return list<RunAct> what may be done about it where it is of no move; a move's is its tray's affair too */
    public function acts(): array
    {
        return $this->isNewest() && false !== $this->backup?->isKept()
            ? array_values(array_filter(RunAct::cases(), $this->may(...)))
            : [];
    }

    /** @param array<string, string|int> $params */
    public function fail(string $trouble, array $params, \DateTimeImmutable $at): void
    {
        $this->state = RunState::Failed;
        $this->attempts = 0;
        // What opened it is needed again as soon as somebody has said which part of it is meant.
        $this->lockedKey = SeveralParts::REASON === $trouble ? $this->lockedKey : null;
        $this->hinder($trouble, $params);
        $this->finishedAt = $at;
    }

    public function finish(\DateTimeImmutable $at): void
    {
        $this->state = RunState::Done;
        $this->attempts = 0;
        $this->freeWhenFull = null;
        $this->lockedKey = null;
        $this->hinder(null);
        $this->finishedAt = $at;
    }

    /** @param int $milliseconds by the machine's own time */
    public function wasWorkedOn(int $milliseconds): void
    {
        $this->workedMs += $milliseconds;
    }

    /** @return int milliseconds that workers have been at it, those aside that were killed */
    public function workedMs(): int
    {
        return $this->workedMs;
    }

    public function finishedAt(): ?\DateTimeImmutable
    {
        return $this->finishedAt;
    }

    /** @param array<string, string|int> $params */
    private function hinder(?string $trouble, array $params = []): void
    {
        $this->trouble = $trouble;
        $this->troubleParams = $params;
    }
}
