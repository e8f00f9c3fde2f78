<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

use Geschenk\Core\Failure;

/** Somebody else wrote into the conversion's folder while it was made: what was rehearsed is not what lies there. */
final class ConversionDisturbed extends Failure
{
    public static function meanwhile(): self
    {
        return new self('conversion_disturbed');
    }
}
