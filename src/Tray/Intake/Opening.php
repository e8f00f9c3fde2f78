<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Intake;

use Geschenk\App\Entity\Errand;

/** What is asked for at the counter when a tray is opened. */
final readonly class Opening
{
    /**
     * @param string       $giving    serial; of no account where no phone gives
     * @param string       $receiving serial; of no account where none receives
     * @param string       $language  the customer's; BCP 47
     * @param list<string> $backups   ids of the kept backups that are brought, where that is the errand
     * @param int|null     $known     id of a customer who has been here before; a kept backup says whose it is
     */
    public function __construct(
        public string $customer,
        public string $contact,
        public string $giving,
        public string $receiving,
        public string $language,
        public Errand $errand = Errand::Move,
        public array $backups = [],
        public ?int $known = null,
    ) {
    }
}
