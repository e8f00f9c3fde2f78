<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/** One line of the readiness of a phone. */
final readonly class Check
{
    public const READY = 'ready';
    public const TO_DO = 'to_do';
    /** Can't be seen before something else is done. */
    public const UNSEEN = 'unseen';

    /**
     * @param string      $id   stable name
     * @param string      $what what is or has to be, in a few words
     * @param string|null $how  what to do on the phone, null when ready
     */
    public function __construct(public string $id, public string $status, public string $what, public ?string $how)
    {
    }
}
