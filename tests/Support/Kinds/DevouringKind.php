<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support\Kinds;

use Geschenk\App\Entity\Run;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\KindOfShop;
use Geschenk\App\Runs\Undone;
use Geschenk\Core\Progress;

/** A kind of run that takes all the memory that there is: its worker dies of it. */
final class DevouringKind implements KindOfShop
{
    public static function name(): string
    {
        return 'devouring';
    }

    public function ensureMayBegin(): void
    {
    }

    public function take(Run $run, Asked $asked): void
    {
    }

    public function ensurePossible(Run $run): void
    {
    }

    public function do(Run $run, Progress $progress): void
    {
        $progress->phase('reading', 1);
        for ($eaten = []; true;) {
            $eaten[] = str_repeat('x', 100_000);
        }
    }

    public function undo(Run $run): Undone
    {
        return new Undone(0);
    }
}
