<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Durable;

/** A folder for throw-away copies, readable by this user alone, gone when the object is. */
final class ScratchFolder
{
    /** Where what is in memory alone lies, and bytes that are put there at most. */
    private const MEMORY = '/dev/shm';
    private const IN_MEMORY = 64_000_000;
    /** Times that much has to be free there: others want some of it, too. */
    private const FREE = 4;

    private function __construct(public readonly string $path)
    {
    }

    /**
     * @param int|null $bytes that are put into it at most; where they are few it is in memory. Null where nobody knows
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public static function make(?int $bytes = null): self
    {
        return self::in(self::fitsIntoMemory($bytes) ? self::MEMORY : sys_get_temp_dir());
    }

    /**
     * For what must not come onto a disk, where there is a place for that.
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public static function inMemory(): self
    {
        return self::in(is_dir(self::MEMORY) && is_writable(self::MEMORY) ? self::MEMORY : sys_get_temp_dir());
    }

    /**
     * @param string $place one of places(), or somewhere below
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public static function in(string $place): self
    {
        $path = $place.'/'.sprintf('geschenk-%d-%s', (int) getmypid(), bin2hex(random_bytes(8)));
        if (!Disk::quietly(static fn (): bool => mkdir($path, 0o700))) {
            throw Disk::failure('make', $path);
        }

        return new self($path);
    }

    /**
     * Removes what processes left that were killed: a scratch folder may hold somebody's chats.
     *
     * @param string ...$others folders in which there are some too
     */
    public static function sweep(string ...$others): void
    {
        foreach (array_unique([...self::places(), ...$others]) as $place) {
            foreach (glob($place.'/geschenk-*-*') ?: [] as $path) {
                // Others may put something there by such a name: what is theirs is not gone through.
                $about = @lstat($path);
                $isOurs = 1 === preg_match('/geschenk-(\d+)-[0-9a-f]{16}$/', $path, $found)
                    && false !== $about && posix_geteuid() === $about['uid'];
                if ($isOurs && !is_dir('/proc/'.$found[1])) {
                    Folder::remove($path);
                }
            }
        }
    }

    /** @return list<string> where scratch folders are */
    public static function places(): array
    {
        return [sys_get_temp_dir(), self::MEMORY];
    }

    private static function fitsIntoMemory(?int $bytes): bool
    {
        if (null === $bytes || $bytes > self::IN_MEMORY || !is_dir(self::MEMORY) || !is_writable(self::MEMORY)) {
            return false;
        }
        $free = disk_free_space(self::MEMORY);

        return false !== $free && $free >= self::FREE * $bytes;
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
