<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/** What was taken from a phone at one moment; the bag lies in the backups folder under the id. */
#[ORM\Entity]
class Backup
{
    /** @param int|null $newestAt milliseconds since 1970 UTC */
    public function __construct(
        #[ORM\Id, ORM\Column(length: 36)] public readonly string $id,
        #[ORM\ManyToOne, ORM\JoinColumn(nullable: false)] public readonly Tray $tray,
        #[ORM\Column(length: 40)] public readonly string $serial,
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
    ) {
    }
}
