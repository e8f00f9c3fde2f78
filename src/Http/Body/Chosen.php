<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

/** What becomes of what the receiving side can’t hold. */
final readonly class Chosen
{
    public function __construct(
        #[Text(40)]
        public string $choice = '',
    ) {
    }
}
