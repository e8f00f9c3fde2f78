<?php

declare(strict_types=1);

namespace Geschenk\App\Runs;

use Geschenk\App\Entity\Backup;
use Geschenk\App\Refusal;

/** One that is of a kept backup, whatever its tray does. */
interface KindOfBackup extends Kind
{
    /** @throws Refusal where it may not begin */
    public function ensureMayBegin(Backup $backup): void;
}
