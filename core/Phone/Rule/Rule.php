<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone\Rule;

use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Situation;

/** One condition that a phone as a whole has to meet: what it is, who can meet it, how much hangs on it. */
interface Rule
{
    /** @return Point|null null where it is not asked of this phone in this role */
    public function judge(Situation $situation): ?Point;
}
