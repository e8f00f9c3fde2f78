<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Import;

use Geschenk\App\Runs\OwnWish;

/** What is imported: something on a stick, or what was sent. */
final readonly class ImportWish implements OwnWish
{
    /**
     * @param string|null $stick  id; null where it was sent
     * @param string      $path   on the stick; "" for all of it
     * @param string|null $upload id of what was sent; null where it is on a stick
     */
    public function __construct(public ?string $stick, public string $path, public ?string $upload)
    {
    }
}
