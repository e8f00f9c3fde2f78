<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Conversion\Route;

final class UnknownDetail extends Touching
{
    public function name(): string
    {
        return 'unknown_detail';
    }

    public function conversations(Route $route): string
    {
        return self::isForeign('c.opaque', $route);
    }

    public function messages(Route $route): string
    {
        return "m.kind <> 'unknown' AND ".self::isForeign('m.opaque', $route);
    }
}
