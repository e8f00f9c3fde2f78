<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Symfony\Component\Validator\Constraints as Assert;

/** What opens a locked backup, where its owner has to tell it again. */
final readonly class KeyTold
{
    public function __construct(
        #[\SensitiveParameter]
        #[Assert\Length(max: 200)]
        public ?string $key = null,
    ) {
    }
}
