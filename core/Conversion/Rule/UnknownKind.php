<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Conversion\Route;

final class UnknownKind extends Touching
{
    public function name(): string
    {
        return 'unknown_kind';
    }

    public function messages(Route $route): string
    {
        return "m.kind = 'unknown' AND ".self::isForeign('m.opaque', $route);
    }
}
