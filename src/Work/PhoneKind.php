<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Geschenk\App\Entity\Run;
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

    public function ensurePossible(Run $run): void
    {
        $state = $this->phones->link(self::serial($run))->state();
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
        return new GuardedLink($this->phones->link(self::serial($run)));
    }

    private static function serial(Run $run): string
    {
        return $run->serial() ?? throw new \LogicException('A run on a phone that names none.');
    }
}
