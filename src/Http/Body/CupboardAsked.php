<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Symfony\Component\Validator\Constraints as Assert;

/** What of the cupboard is looked for. */
final readonly class CupboardAsked
{
    public function __construct(
        #[Assert\Length(max: 120)]
        public string $words = '',
        #[Assert\Choice(['kept', 'due', 'broken', 'alone', 'safety_copies', 'erased'])]
        public string $shown = 'kept',
        #[Assert\Choice(['taken', 'newest', 'customer', 'bytes', 'until'])]
        public string $sortedBy = 'taken',
        public bool $descending = true,
        #[Assert\Range(min: 1, max: 100_000)]
        public int $page = 1,
    ) {
    }
}
