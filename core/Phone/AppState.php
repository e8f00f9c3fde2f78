<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/** A messenger on a phone. */
final readonly class AppState
{
    /**
     * @param string      $id     names the app on the phone, for instance "otterpost"
     * @param string      $name   what people call it
     * @param string|null $number E.164 number it is registered with; null when it is not registered
     */
    public function __construct(public string $id, public string $name, public string $version, public ?string $number)
    {
    }
}
