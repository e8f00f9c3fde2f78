<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Against;

use Geschenk\Core\Hindrance;

/** Somebody works with the other one, or takes it away. */
final class OtherInUse extends Hindrance
{
    public static function now(): self
    {
        return new self('other_in_use');
    }
}
