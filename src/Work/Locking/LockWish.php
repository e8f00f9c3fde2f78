<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Locking;

use Geschenk\App\Runs\OwnWish;

/** A password each: whoever tells another while one is being put there is not given that one's. */
final readonly class LockWish implements OwnWish
{
}
