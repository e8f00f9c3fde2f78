<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Geschenk\App\Entity\Run;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Progress;
use Symfony\Component\DependencyInjection\Attribute\AutoconfigureTag;

/** How one kind of run is done. */
#[AutoconfigureTag]
interface Job
{
    public static function kind(): string;

    /**
     * A quick look whether the work can begin.
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    public function ensurePossible(Run $run): void;

    /** Does the work, or goes on with it. */
    public function do(Run $run, Progress $progress): void;

    /** Removes what the run has done so far; nothing that is in place already. */
    public function undo(Run $run): Undone;

    /** A run that follows by itself. */
    public function next(Run $run): ?Run;
}
