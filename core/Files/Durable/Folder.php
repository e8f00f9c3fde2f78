<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Durable;

/** What PHP has no single function for: whole folders. Links are never followed. */
final class Folder
{
    /**
     * Makes a folder and those above it. Their names are on the disk before anything is put into them: a record that
     * names a file would else outlive the folder of the file when the power goes.
     *
     * @throws DiskFailure
     */
    public static function make(string $path): string
    {
        if (is_dir($path)) {
            return $path;
        }
        $above = dirname($path);
        if ($above !== $path) {
            self::make($above);
        }
        if (!Disk::quietly(static fn (): bool => mkdir($path, 0o700)) && !is_dir($path)) {
            throw Disk::failure('make', $path);
        }
        Disk::sync($above);

        return $path;
    }

    /**
     * Removes a folder with all that is in it, or says that it can't.
     *
     * @return int bytes of its files
     *
     * @throws DiskFailure
     */
    public static function discard(string $path): int
    {
        $bytes = 0;
        foreach (is_dir($path) ? self::files($path) : [] as $file) {
            $bytes += (int) @filesize($path.'/'.$file);
        }
        self::remove($path);
        clearstatcache(true, $path);
        if (file_exists($path)) {
            throw DiskFailure::at('remove', $path);
        }

        return $bytes;
    }

    public static function remove(string $path): void
    {
        if (is_link($path) || is_file($path)) {
            @unlink($path);

            return;
        }
        if (!is_dir($path)) {
            return;
        }
        foreach (scandir($path) ?: [] as $name) {
            if ('.' !== $name && '..' !== $name) {
                self::remove($path.'/'.$name);
            }
        }
        @rmdir($path);
    }

    /**
     * Regular files below a folder, in a stable order, as paths relative to it.
     *
     * @return \Generator<int, string>
     */
    public static function files(string $path, string $below = ''): \Generator
    {
        $names = @scandir('' === $below ? $path : $path.'/'.$below, \SCANDIR_SORT_ASCENDING) ?: [];
        foreach ($names as $name) {
            if ('.' === $name || '..' === $name) {
                continue;
            }
            $relative = '' === $below ? $name : $below.'/'.$name;
            if (is_link($path.'/'.$relative)) {
                continue;
            }
            if (is_dir($path.'/'.$relative)) {
                yield from self::files($path, $relative);
            } elseif (is_file($path.'/'.$relative)) {
                yield $relative;
            }
        }
    }

    /** True for a path that stays below the folder it is joined to, whatever that folder is. */
    public static function staysInside(string $relative): bool
    {
        if ('' === $relative || str_contains($relative, "\0") || str_contains($relative, '\\')
            || str_starts_with($relative, '/')) {
            return false;
        }
        foreach (explode('/', $relative) as $part) {
            if ('' === $part || '.' === $part || '..' === $part) {
                return false;
            }
        }

        return true;
    }

    /**
     * True for the path of a regular file below a folder that no link is a part of, the folder itself and the file
     * included: what a phone or a backup names is never followed elsewhere.
     */
    public static function hasPlain(string $folder, string $relative): bool
    {
        if (!self::staysInside($relative) || is_link($folder)) {
            return false;
        }
        $path = $folder;
        foreach (explode('/', $relative) as $part) {
            $path .= '/'.$part;
            clearstatcache(true, $path);
            if (is_link($path)) {
                return false;
            }
        }

        return is_file($path);
    }

    /**
     * Copies a stream into a file and closes it. A file that an earlier, interrupted attempt put there whole is kept.
     *
     * @param resource    $source
     * @param string|null $sha256 of the stream, where it is known
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public static function putStream(mixed $source, string $path, ?string $sha256 = null): void
    {
        if (null === $sha256 || !is_file($path) || Disk::sha256($path) !== $sha256) {
            self::clearName($path);
            $target = Disk::open($path, 'w');
            Disk::copy($source, $target, $path);
            if (!fclose($target)) {
                throw DiskFailure::at('write', $path);
            }
        }
        fclose($source);
    }

    /**
     * Gives a file another name beside its own; where the file system has none to give, it is copied.
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public static function putLink(string $source, string $path): void
    {
        self::clearName($path);
        if (!Disk::quietly(static fn (): bool => link($source, $path))) {
            self::putStream(Disk::open($source, 'r'), $path);
        }
    }

    /**
     * What lies under a name may be another file's second name: it is taken away, and never written into.
     *
     * @throws DiskFailure
     */
    private static function clearName(string $path): void
    {
        if ((is_file($path) || is_link($path)) && !unlink($path)) {
            throw DiskFailure::at('remove', $path);
        }
    }
}
