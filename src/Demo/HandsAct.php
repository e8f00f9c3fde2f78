<?php

declare(strict_types=1);

namespace Geschenk\App\Demo;

use Geschenk\App\Http\Body\Text;
use Symfony\Component\Validator\Constraints as Assert;

/** What the hands at a stand-in phone do. */
final readonly class HandsAct
{
    public function __construct(
        #[Text(40)]
        public string $act = '',
        #[Assert\Length(max: 40)]
        public ?string $typed = null,
    ) {
    }
}
