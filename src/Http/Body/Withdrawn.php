<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Symfony\Component\Validator\Constraints as Assert;

/** What ending a tray without a hand-over needs. */
final readonly class Withdrawn
{
    public function __construct(
        /** the tray's, as it was typed */
        #[Assert\Length(max: 20)]
        public string $number = '',
        /** whether what was backed up is kept by the shop's rule, and not erased at once */
        public bool $keep = false,
    ) {
    }
}
