<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Phone\PhoneLink;

/** What is taken: an offer of an account on a phone, and what opens it. */
final readonly class Taking
{
    /** @param string $app id of the app */
    public function __construct(
        public PhoneLink $link,
        public string $app,
        public Offer $offer,
        #[\SensitiveParameter] public ?BackupKey $key = null,
    ) {
    }
}
