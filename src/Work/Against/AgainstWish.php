<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Against;

use Geschenk\App\Runs\OwnWish;

/** Which one a backup is held against. */
final readonly class AgainstWish implements OwnWish
{
    /** @param string $earlier id of a backup */
    public function __construct(public string $earlier)
    {
    }
}
