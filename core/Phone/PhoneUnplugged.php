<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

use Geschenk\Core\Hindrance;

/** The cable is out. Nothing is lost: whoever was at work goes on when the phone is back. */
final class PhoneUnplugged extends Hindrance
{
    public static function of(string $serial): self
    {
        return new self('unplugged', ['serial' => $serial]);
    }

    public function serial(): string
    {
        return (string) $this->fields['serial'];
    }
}
