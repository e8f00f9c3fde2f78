<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

/** Which phone gives from now on. */
final readonly class Roles
{
    public function __construct(
        #[Text(12)]
        public string $givingTag = '',
    ) {
    }
}
