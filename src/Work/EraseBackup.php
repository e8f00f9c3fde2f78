<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

/** Has a worker erase one backup, and nothing else of its tray. */
final readonly class EraseBackup
{
    public function __construct(public string $id)
    {
    }
}
