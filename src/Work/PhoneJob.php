<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;

/** What runs on one phone have in common. */
abstract class PhoneJob implements Job
{
    public function __construct(protected readonly PhoneDirectory $phones)
    {
    }

    abstract protected function phone(Run $run): TrayPhone;

    public function lockName(Run $run): string
    {
        return 'phone-'.$this->phone($run)->serial;
    }

    public function ensurePossible(Run $run): void
    {
        $serial = $this->phone($run)->serial;
        $state = $this->phones->link($serial)->state();
        if (!$state->plugged) {
            throw PhoneUnplugged::of($serial);
        }
        if (!$state->isOpen()) {
            throw PhoneRefuses::notAllowed();
        }
    }

    public function next(Run $run): ?Run
    {
        return null;
    }

    protected function link(Run $run): PhoneLink
    {
        return $this->phones->link($this->phone($run)->serial);
    }
}
