<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Geschenk\App\Entity\Run;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Phone\Role;

/** What runs on one phone have in common. */
abstract class PhoneJob implements Job
{
    public function __construct(protected readonly PhoneDirectory $phones)
    {
    }

    abstract protected function role(): Role;

    public function serial(Run $run): string
    {
        return $run->tray->phone($this->role())->serial;
    }

    public function ensurePossible(Run $run): void
    {
        $phone = $run->tray->phone($this->role());
        $state = $this->phones->link($phone->serial)->state();
        if (!$state->plugged) {
            throw new PhoneUnplugged($phone->serial);
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
        return $this->phones->link($this->serial($run));
    }
}
