<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Geschenk\App\Shop;
use Symfony\Component\Validator\Constraints as Assert;

/** What somebody writes beside a backup; nothing takes away what was there. */
final readonly class BackupNote
{
    public function __construct(
        #[Assert\Length(max: Shop::LONGEST_NOTE, normalizer: 'trim')]
        public string $text = '',
    ) {
    }
}
