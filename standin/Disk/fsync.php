<?php

declare(strict_types=1);

namespace Geschenk\Core\Files;

use Geschenk\Standin\Disk\UnsyncedDisk;

/** @param resource $stream */
function fsync(mixed $stream): bool
{
    return !UnsyncedDisk::$isWaitedFor || \fsync($stream);
}
