<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\Core\Phone\Fitness;
use Geschenk\Core\Phone\GuardedLink;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\PhoneLink;

/** What runs on one phone have in common. */
abstract class PhoneKind extends CommonKind
{
    public function __construct(protected readonly PhoneDirectory $phones)
    {
    }

    /** Most are at the one that receives. */
    public function phone(Move $move): TrayPhone
    {
        return $move->to();
    }

    public function ensurePossible(Run $run): void
    {
        $state = $this->phones->link(self::serial($run))->state();
        $since = $run->movedAt > 0 ? microtime(true) - $run->movedAt : null;
        Fitness::ensure($state, Fitness::GOES_ON_AT, $since);
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
