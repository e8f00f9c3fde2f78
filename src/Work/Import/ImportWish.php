<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Import;

use Geschenk\App\Runs\OwnWish;
use Geschenk\Core\Import\Found;

/** What is imported: something on a stick, or what was sent; as it was looked at before it was asked for. */
final readonly class ImportWish implements OwnWish
{
    /**
     * @param string      $stick  id; "" where it was sent
     * @param string      $from   what people call the stick; "" where it was sent
     * @param string      $name   what the file or folder is called
     * @param string|null $upload id of what was sent; null where it is on a stick
     */
    public function __construct(
        public Found $found,
        public string $stick,
        public string $from,
        public string $name,
        public ?string $upload = null,
    ) {
    }
}
