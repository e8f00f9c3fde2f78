<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Geschenk\App\Words\Language;
use Symfony\Component\Validator\Constraints as Assert;

/** The language that somebody reads. */
final readonly class Spoken
{
    public function __construct(
        #[Assert\NotBlank]
        #[Assert\Choice(Language::ALL)]
        public string $language = '',
    ) {
    }
}
