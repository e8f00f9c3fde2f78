<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Conversion\Move;

final class UnknownDetail extends Touching
{
    public function name(): string
    {
        return 'unknown_detail';
    }

    public function sentence(): string
    {
        return 'There is a detail that Geschenk does not know. It is carried along and not shown on the receiving phone.';
    }

    public function conversations(Move $move): string
    {
        return self::isForeign('c.opaque', $move);
    }

    public function messages(Move $move): string
    {
        return "m.kind <> 'unknown' AND ".self::isForeign('m.opaque', $move);
    }
}
