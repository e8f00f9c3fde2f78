<?php

declare(strict_types=1);

namespace Geschenk\Core\Files;

/** A folder for throw-away copies, readable by this user alone, gone when the object is. */
final class ScratchFolder
{
    private function __construct(public readonly string $path)
    {
    }

    /**
     * @throws DiskFull
     * @throws DiskFailure
     */
    public static function make(): self
    {
        $path = sprintf('%s/geschenk-%d-%s', sys_get_temp_dir(), (int) getmypid(), bin2hex(random_bytes(8)));
        if (!Disk::quietly(static fn (): bool => mkdir($path, 0o700))) {
            throw Disk::failure('make', $path);
        }

        return new self($path);
    }

    /** Removes what processes left that were killed: a scratch folder may hold somebody's chats. */
    public static function sweep(): void
    {
        foreach (glob(sys_get_temp_dir().'/geschenk-*-*') ?: [] as $path) {
            if (1 === preg_match('/geschenk-(\d+)-[0-9a-f]{16}$/', $path, $found) && !is_dir('/proc/'.$found[1])) {
                Folder::remove($path);
            }
        }
    }

    public function remove(): void
    {
        Folder::remove($this->path);
    }

    public function __destruct()
    {
        $this->remove();
    }
}
