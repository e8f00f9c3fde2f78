<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Import;

use Geschenk\App\Runs\OwnWish;

/** Which of several things is meant that what is imported holds. */
final readonly class PartMeant implements OwnWish
{
    /** @param string $id of a core/Import/Part that was offered */
    public function __construct(public string $id)
    {
    }
}
