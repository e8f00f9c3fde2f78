<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A file that a browser sends, piece by piece; how much of it is there is told by the file alone. */
#[ORM\Entity]
class Upload
{
    public function __construct(
        #[ORM\Id, ORM\Column(length: 36)] public readonly string $id,
        #[ORM\Column(length: 255)] public readonly string $name,
        #[ORM\Column(type: 'bigint')] public readonly int $bytes,
        /** who sends it: nobody else adds to it, or takes it */
        #[ORM\Column(length: 60)] public readonly string $sentBy,
        #[ORM\Column] public readonly \DateTimeImmutable $begunAt,
    ) {
    }
}
