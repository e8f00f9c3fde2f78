<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Durable;

/**
 * A folder in memory that processes of one user share, under a name that is told by what it is of. Others may put
 * something there by that name: then nothing is put into it, and nothing is taken out of it.
 */
final readonly class MemoryFolder
{
    public string $path;

    /**
     * @param string $place in memory
     * @param string $what  lies in it
     * @param string $of    path of what it is of
     */
    public function __construct(string $place, string $what, string $of)
    {
        $this->path = sprintf('%s/geschenk-%s-%d-%s', $place, $what, posix_geteuid(), self::mark($of));
    }

    /** Makes it where it is missing. */
    public function make(): void
    {
        Disk::quietly(fn (): bool => mkdir($this->path, 0o700));
    }

    /** Whether it is there, ours, and closed to all others. */
    public function isOurs(): bool
    {
        clearstatcache(true, $this->path);
        $about = @lstat($this->path);

        // A folder (stat(2)).
        return false !== $about && posix_geteuid() === $about['uid'] && 0o040700 === ($about['mode'] & 0o170777);
    }

    /** A path, as a name has it. */
    public static function mark(string $path): string
    {
        return substr(hash('sha256', $path), 0, 16);
    }
}
