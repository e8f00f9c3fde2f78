<?php

declare(strict_types=1);

namespace Geschenk\App\Demo;

use Geschenk\Standin\Phone\Faults;
use Symfony\Component\Validator\Constraints as Assert;

/** What is to happen to a stand-in phone, and when. */
final readonly class Plan
{
    public const COPYING = 'copying';
    public const MINUTES = 'minutes';

    /** @param int $amount percent of what there is to copy, or minutes from now */
    public function __construct(
        #[Assert\Choice(Faults::KINDS)]
        public string $fault = '',
        #[Assert\Choice([self::COPYING, self::MINUTES])]
        public string $when = '',
        #[Assert\Range(min: 0, max: 100)]
        public int $amount = 0,
    ) {
    }
}
