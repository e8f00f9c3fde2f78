<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A lease: what somebody has uncovered, for as long as the page that shows it says so. */
#[ORM\Entity]
class Uncovering
{
    /**
     * @param string                    $session   hash of the session's id
     * @param string                    $subject   backup or check that it is of
     * @param int                       $number    of the conversation, or what pictures were drawn by; 0 for all
     * @param list<string>              $pieces    the only pictures that it opens; none for all of what it is of
     * @param string                    $endAct    what is noted in the log when it ends
     * @param array<string, string|int> $endParams
     */
    public function __construct(
        #[ORM\Id, ORM\Column(length: 32)] public readonly string $id,
        #[ORM\Column(length: 64)] public readonly string $session,
        #[ORM\Column(length: 60)] public readonly string $username,
        #[ORM\Column(length: 80)] public readonly string $subject,
        #[ORM\Column(type: 'bigint')] public readonly int $number,
        #[ORM\Column(type: 'json')] public readonly array $pieces,
        /** whether its tray was handed over by then */
        #[ORM\Column] public readonly bool $closed,
        #[ORM\Column] public readonly int $tray,
        #[ORM\Column(length: 60)] public readonly string $endAct,
        #[ORM\Column(type: 'json')] public readonly array $endParams,
        #[ORM\Column] private \DateTimeImmutable $usedAt,
    ) {
    }

    public function usedAt(): \DateTimeImmutable
    {
        return $this->usedAt;
    }
}
