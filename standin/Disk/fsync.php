<?php

declare(strict_types=1);

namespace Geschenk\Standin\Disk;

/** @param resource $stream */
function fsync(mixed $stream): bool
{
    return !UnsyncedDisk::$isWaitedFor || \fsync($stream);
}
