<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;
use Geschenk\Core\Messenger\BackupLock;

/**
 * What was taken of one account at one moment. It belongs to the customer, and lies as a bag in the backups folder
 * under its id. The way in is how the chats came.
 */
#[ORM\Entity]
class Backup
{
    #[ORM\ManyToOne, ORM\JoinColumn]
    public readonly Customer $customer;

    /** When it was asked for that it goes: from then on it is nobody's any more. */
    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $eraseAskedAt = null;

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
        /** of all that an app held on the phone that receives, before it was written to */
        #[ORM\Column] public readonly bool $isSafetyCopy = false,
        /** whether more was lost by damage than could be counted */
        #[ORM\Column] public readonly bool $lossUncounted = false,
    ) {
        $this->customer = $tray->customer;
    }

    public function isToBeErased(\DateTimeImmutable $at): void
    {
        $this->eraseAskedAt ??= $at;
    }

    public function isKept(): bool
    {
        return null === $this->eraseAskedAt;
    }
}
