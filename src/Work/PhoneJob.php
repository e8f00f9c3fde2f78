<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\Core\Phone\Fitness;
use Geschenk\Core\Phone\GuardedLink;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\PhoneLink;

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
        $state = $this->phones->link($this->phone($run)->serial)->state();
        $since = $run->movedAt > 0 ? microtime(true) - $run->movedAt : null;
        Fitness::ensure($state, Fitness::GOES_ON_AT, $since);
    }

    public function undo(Run $run): Undone
    {
        return new Undone();
    }

    public function next(Run $run): ?Run
    {
        return null;
    }

    protected function link(Run $run): PhoneLink
    {
        return new GuardedLink($this->phones->link($this->phone($run)->serial));
    }
}
