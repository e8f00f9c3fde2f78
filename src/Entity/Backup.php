<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;
use Geschenk\Core\Messenger\BackupLock;

/**
 * What was taken of one account at one moment. It belongs to the customer, and is kept in the vault under its id. The
 * way in is how the chats came.
 *
 * @phpstan-type Gone array{files: int, bytes: int}
 */
#[ORM\Entity]
class Backup
{
    #[ORM\ManyToOne, ORM\JoinColumn]
    public readonly Customer $customer;

    /** A day of its own, the moment after it: it goes then, before the rest of its tray or behind it. */
    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $keepUntil = null;

    #[ORM\Embedded(columnPrefix: 'over_')]
    private SeenOver $over;

    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $eraseAskedAt = null;

    /** Whose wish that was. */
    #[ORM\Column(length: 60, nullable: true)]
    private ?string $eraseAskedBy = null;

    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $erasedAt = null;

    /** The run about it that was asked for last. */
    #[ORM\OneToOne, ORM\JoinColumn(nullable: true)]
    private ?Run $run = null;

    /** When it was read back last, to the last byte. */
    #[ORM\Column]
    private \DateTimeImmutable $verifiedAt;

    /** What was wrong then: a code of translations/ under "failure"; null where it was whole. */
    #[ORM\Column(length: 60, nullable: true)]
    private ?string $trouble = null;

    /** @var array<string, string|int> */
    #[ORM\Column(type: 'json')]
    private array $troubleParams = [];

    /** Since when it is under its customer's own password. */
    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $lockedAt = null;

    /** What somebody at the shop has written beside it. */
    #[ORM\Column(length: 500)]
    private string $note = '';

    /** @var Gone|null what goes, or is gone */
    #[ORM\Column(type: 'json', nullable: true)]
    private ?array $gone = null;

    /** @param int|null $newestAt milliseconds since 1970 UTC */
    public function __construct(
        #[ORM\Id, ORM\Column(length: 36)] public readonly string $id,
        /** goes up with every backup of the shop: the order that no clock decides */
        #[ORM\Column(unique: true)] public readonly int $counter,
        #[ORM\ManyToOne, ORM\JoinColumn(nullable: false)] public readonly Tray $tray,
        #[ORM\Column(length: 40)] public readonly string $serial,
        #[ORM\Column(length: 40)] public readonly string $app,
        #[ORM\Column(length: 60)] public readonly string $edition,
        /** name of a WayIn */
        #[ORM\Column(length: 20)] public readonly string $wayIn,
        #[ORM\Column] public readonly \DateTimeImmutable $takenAt,
        #[ORM\Column(length: 20)] public readonly string $account,
        #[ORM\Column] public readonly int $conversations,
        #[ORM\Column] public readonly int $messages,
        #[ORM\Column] public readonly int $attachments,
        #[ORM\Column] public readonly int $attachmentsAbsent,
        #[ORM\Column] public readonly int $attachmentBytes,
        #[ORM\Column(type: 'bigint', nullable: true)] public readonly ?int $newestAt,
        /** messages that were in a damaged part of the phone's own database */
        #[ORM\Column] public readonly int $lost = 0,
        /** when that was made which it was taken out of, by the phone's clock; null of the chats as they were */
        #[ORM\Column(nullable: true)] public readonly ?\DateTimeImmutable $madeAt = null,
        /** what that was locked with */
        #[ORM\Column(length: 10, nullable: true, enumType: BackupLock::class)]
        public readonly ?BackupLock $lockedWith = null,
        /** whether that came without any video */
        #[ORM\Column] public readonly bool $withoutVideos = false,
        #[ORM\Column(length: 20, enumType: Origin::class)] public readonly Origin $origin = Origin::Account,
        /** whether more was lost by damage than could be counted */
        #[ORM\Column] public readonly bool $lossUncounted = false,
    ) {
        $this->customer = $tray->customer;
        $this->over = new SeenOver();
        // Nothing is kept that was not read back.
        $this->verifiedAt = $takenAt;
    }

    public function keep(\DateTimeImmutable $until): void
    {
        $this->keepUntil = $until;
        $this->over->forget();
    }

    public function over(): SeenOver
    {
        return $this->over;
    }

    /** It goes with its tray again. */
    public function keepWithItsTray(): void
    {
        $this->keepUntil = null;
        $this->over->forget();
    }

    /** Whether it has a day of its own. */
    public function hasItsOwnDay(): bool
    {
        return null !== $this->keepUntil;
    }

    /** The moment when its time is over; its tray's where nobody said another. Null while that is open. */
    public function keptUntil(): ?\DateTimeImmutable
    {
        return $this->keepUntil ?? $this->tray->keepUntil();
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

    /**
     * @param string|null               $trouble code of what is wrong; null where it is whole
     * @param array<string, string|int> $params
     */
    public function verified(\DateTimeImmutable $at, ?string $trouble, array $params = []): void
    {
        $this->verifiedAt = $at;
        $this->trouble = $trouble;
        $this->troubleParams = $params;
    }

    public function verifiedAt(): \DateTimeImmutable
    {
        return $this->verifiedAt;
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

    public function isSafetyCopy(): bool
    {
        return Origin::SafetyCopy === $this->origin;
    }

    public function state(): BackupState
    {
        return match (true) {
            null !== $this->erasedAt => BackupState::Erased,
            null !== $this->eraseAskedAt => BackupState::Erasing,
            null !== $this->lockedAt => BackupState::Locked,
            default => BackupState::Kept,
        };
    }

    public function isKept(): bool
    {
        return in_array($this->state(), [BackupState::Kept, BackupState::Locked], true);
    }

    /** @param \DateTimeImmutable|null $at since when it is under its customer's own password; null for no more */
    public function locked(?\DateTimeImmutable $at): void
    {
        $this->lockedAt = $at;
    }

    public function write(string $note): void
    {
        $this->note = $note;
    }

    public function note(): string
    {
        return $this->note;
    }

    public function lockedAt(): ?\DateTimeImmutable
    {
        return $this->lockedAt;
    }

    public function isToBeErased(\DateTimeImmutable $at, string $by): void
    {
        if ($this->isKept()) {
            $this->eraseAskedAt = $at;
            $this->eraseAskedBy = $by;
        }
    }

    /** Who has it erased. */
    public function eraseBy(): string
    {
        return $this->eraseAskedBy ?? '';
    }

    /** @param Gone $gone what goes: told before the first of it is gone, and so known whatever comes between */
    public function erases(array $gone): void
    {
        $this->gone ??= $gone;
    }

    /** @return Gone|null what goes, or is gone; null where nobody has counted it by itself */
    public function gone(): ?array
    {
        return $this->gone;
    }

    public function erased(\DateTimeImmutable $at): void
    {
        $this->erasedAt ??= $at;
        // It may tell of whose chats they were.
        $this->note = '';
    }

    public function erasedAt(): ?\DateTimeImmutable
    {
        return $this->erasedAt;
    }
}
