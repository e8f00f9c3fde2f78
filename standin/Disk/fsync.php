<?php

declare(strict_types=1);

// In the room of core's own way to the disk, where these are found before PHP's.

namespace Geschenk\Core\Files\Durable;

use Geschenk\Standin\Disk\UnsyncedDisk;

/** @param resource $stream */
function fsync(mixed $stream): bool
{
    return !UnsyncedDisk::$isWaitedFor || \fsync($stream);
}

/**
 * @param list<string>                                  $command
 * @param array<int, resource|list<string>>             $descriptors
 * @param array<int, resource>                          $pipes
 *
 * @return resource|false
 */
function proc_open(array $command, array $descriptors, array &$pipes): mixed
{
    $isWait = 'sync' === ($command[0] ?? '');

    return \proc_open($isWait && !UnsyncedDisk::$isWaitedFor ? ['true'] : $command, $descriptors, $pipes);
}
