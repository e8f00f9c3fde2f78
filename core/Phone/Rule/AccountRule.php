<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone\Rule;

use Geschenk\Core\Phone\AccountAsked;
use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Situation;

/** One condition that a messenger on a phone has to meet. */
interface AccountRule
{
    /** @return Point|null null where it is not asked of this phone in this role */
    public function judge(Situation $situation, AccountAsked $account): ?Point;
}
