<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Symfony\Component\Validator\Constraints as Assert;

/** What an import goes on with: what opens it, where that is told again, and which of several things is meant. */
final readonly class ImportGoesOn
{
    public function __construct(
        #[\SensitiveParameter]
        #[Assert\Length(max: 200)]
        public ?string $key = null,
        #[Assert\Length(max: 1000)]
        public ?string $part = null,
    ) {
    }
}
