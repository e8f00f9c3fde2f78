<?php

declare(strict_types=1);

namespace Geschenk\App\Runs;

use Geschenk\App\Entity\Customer;
use Geschenk\App\Refusal;

/** One that is of a customer, before there is a tray or a backup of it. */
interface KindOfCustomer extends Kind
{
    /** @throws Refusal where it may not begin */
    public function ensureMayBegin(Customer $customer): void;
}
