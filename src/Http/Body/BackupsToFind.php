<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Symfony\Component\Validator\Constraints as Assert;

/** What kept backups are looked for by. */
final readonly class BackupsToFind
{
    /** @param int|null $behind counter of the backup that the page begins behind */
    public function __construct(
        #[Assert\Length(max: 120)]
        public string $words = '',
        #[Assert\Positive]
        public ?int $behind = null,
    ) {
    }
}
