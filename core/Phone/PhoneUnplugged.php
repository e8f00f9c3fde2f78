<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/** The cable is out. Nothing is lost: whoever was at work goes on when the phone is back. */
final class PhoneUnplugged extends \RuntimeException
{
    public function __construct(public readonly string $serial)
    {
        parent::__construct(sprintf('Phone %s is not connected.', $serial));
    }
}
