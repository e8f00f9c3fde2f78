<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Symfony\Component\Validator\Constraints as Assert;

/** What is said at the hand-over. */
final readonly class HandedOver
{
    public function __construct(
        /** last day on which the backups are kept, YYYY-MM-DD */
        #[Assert\Length(max: 10)]
        public ?string $keepUntil = null,
        /**
         * @var list<string> ids of what is still open, as it was shown
         */
        #[Assert\Count(max: 100)]
        #[Assert\All([new Assert\Type('string'), new Assert\Length(max: 120)])]
        public array $open = [],
    ) {
    }
}
