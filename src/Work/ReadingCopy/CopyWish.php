<?php

declare(strict_types=1);

namespace Geschenk\App\Work\ReadingCopy;

use Geschenk\App\Runs\OwnWish;
use Geschenk\Core\ReadingCopy\Selected;

/** What is taken home to read, and how. */
final readonly class CopyWish implements OwnWish
{
    /**
     * @param list<string> $forms    names of Form
     * @param string       $packing  name of a Packing
     * @param string       $stick    id
     * @param string       $language BCP 47
     */
    public function __construct(
        public Selected $selected,
        public array $forms,
        public string $packing,
        public string $stick,
        public string $language,
    ) {
    }
}
