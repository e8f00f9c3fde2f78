<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Symfony\Component\Validator\Constraints as Assert;

/** A file that a browser is about to send. */
final readonly class NewUpload
{
    /** @param int $bytes of all of it */
    public function __construct(
        #[Text(255)]
        public string $name = '',
        #[Assert\Positive]
        public int $bytes = 0,
    ) {
    }
}
