<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Symfony\Component\Validator\Constraints as Assert;

/** What the shop usually leaves out. */
final readonly class NewHabit
{
    /** @param array<mixed> $groups names of FileGroup */
    public function __construct(
        #[Assert\Count(max: 20), Assert\All([new Assert\Type('string')])]
        public array $groups = [],
        public bool $archived = false,
        public bool $empty = false,
        #[Assert\Range(min: 1, max: 600)]
        public ?int $quietMonths = null,
    ) {
    }
}
