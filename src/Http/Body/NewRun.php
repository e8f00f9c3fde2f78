<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Symfony\Component\Validator\Constraints as Assert;

/** What a run is asked for with. */
final readonly class NewRun
{
    public function __construct(
        #[Text]
        public string $kind = '',
        #[Assert\Length(max: 20)]
        public ?string $confirmedTag = null,
        #[Assert\PositiveOrZero]
        public ?int $replaces = null,
        #[Assert\PositiveOrZero]
        public ?int $unreadable = null,
        #[Assert\Length(max: 300)]
        public ?string $offer = null,
        #[\SensitiveParameter]
        #[Assert\Length(max: 200)]
        public ?string $key = null,
    ) {
    }
}
