<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Chosen;

use Geschenk\Core\Conversion\Choice;
use Geschenk\Core\Conversion\Outcome;
use Geschenk\Core\Conversion\Rule\Touching;

/** What stays behind because somebody chose so, and not because the receiving format can't hold it. */
abstract class ChosenRule extends Touching
{
    public function choices(): array
    {
        return [new Choice('left_out', Outcome::LeftOut)];
    }
}
