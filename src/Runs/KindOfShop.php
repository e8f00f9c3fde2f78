<?php

declare(strict_types=1);

namespace Geschenk\App\Runs;

use Geschenk\App\Refusal;

/** One that is of the shop as a whole: one of its kind at a time. */
interface KindOfShop extends Kind
{
    /** @throws Refusal where it may not begin */
    public function ensureMayBegin(): void;
}
