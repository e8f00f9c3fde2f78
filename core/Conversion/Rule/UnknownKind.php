<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Conversion\Move;

final class UnknownKind extends Touching
{
    public function name(): string
    {
        return 'unknown_kind';
    }

    public function sentence(): string
    {
        return 'The message is of a kind that Geschenk does not know. It arrives with its text and its details carried along, and is shown as not supported.';
    }

    public function messages(Move $move): string
    {
        return "m.kind = 'unknown' AND ".self::isForeign('m.opaque', $move);
    }
}
