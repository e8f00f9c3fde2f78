<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Symfony\Component\Validator\Constraints as Assert;

/** Which earlier backup one is held against. */
final readonly class EarlierOne
{
    public function __construct(
        #[Assert\Length(min: 36, max: 36)]
        public string $earlier,
    ) {
    }
}
