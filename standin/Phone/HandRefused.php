<?php

declare(strict_types=1);

namespace Geschenk\Standin\Phone;

use Geschenk\Core\Failure;

/** A stand-in phone does not do what a hand wanted. */
final class HandRefused extends Failure
{
    public static function notOffered(): self
    {
        return new self('hand_not_offered');
    }

    public static function wrongCode(): self
    {
        return new self('hand_wrong_code');
    }

    public static function wrongPin(): self
    {
        return new self('hand_wrong_pin');
    }

    public static function noRoom(): self
    {
        return new self('hand_no_room');
    }

    public static function noNumber(): self
    {
        return new self('hand_no_number');
    }
}
