<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Symfony\Component\Validator\Constraints as Assert;

/** How a tray that was handed over is opened anew. */
final readonly class Reopening
{
    public function __construct(
        /** serial of another phone that receives */
        #[Assert\Length(max: 40)]
        public ?string $receiving = null,
    ) {
    }
}
