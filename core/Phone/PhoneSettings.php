<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/** What is set on a phone, as far as it shows that to this computer; what it does not show is null. */
final readonly class PhoneSettings
{
    /**
     * @param int|null  $lockAfter seconds until the screen locks itself; 0 when it never does
     * @param bool|null $managed   whether an employer manages the phone
     * @param bool|null $theftLock whether it refuses to be set up by anybody but its owner
     */
    public function __construct(
        public ?int $lockAfter = null,
        public ?bool $managed = null,
        public ?bool $theftLock = null,
    ) {
    }
}
