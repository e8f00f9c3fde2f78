<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Symfony\Component\Validator\Constraints as Assert;

/** What is looked for in all texts. */
final readonly class WordsToFind
{
    /** @param int|null $behind id of the message that the page begins behind */
    public function __construct(
        #[Text(100)]
        public string $words = '',
        #[Assert\Positive]
        public ?int $behind = null,
    ) {
    }
}
