<?php

declare(strict_types=1);

namespace Geschenk\Standin\Disk;

/**
 * A disk that nobody waits for, to measure what waiting costs: a function of this name in core's own namespace is found
 * before PHP's. Once it is loaded it stays for the whole process, which is why only a benchmark loads it.
 */
final class UnsyncedDisk
{
    public static bool $isWaitedFor = true;

    public static function prepare(): void
    {
        require_once __DIR__.'/fsync.php';
    }
}
