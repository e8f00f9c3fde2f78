<?php

declare(strict_types=1);

namespace Geschenk\Core\Files;

/** What PHP has no single function for: whole folders. Links are never followed. */
final class Folder
{
    public static function make(string $path): string
    {
        if (!is_dir($path) && !@mkdir($path, 0o700, true) && !is_dir($path)) {
            throw new \RuntimeException(sprintf('The folder %s could not be made.', $path));
        }

        return $path;
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
        if ('' === $relative || str_contains($relative, "\0") || str_contains($relative, '\\') || str_starts_with($relative, '/')) {
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
     * Copies a stream into a new file and closes it.
     *
     * @param resource $source
     */
    public static function putStream(mixed $source, string $path): void
    {
        $target = @fopen($path, 'x');
        if (false === $target || false === stream_copy_to_stream($source, $target) || !fclose($target)) {
            throw new \RuntimeException(sprintf('%s could not be written: is there space left?', $path));
        }
        fclose($source);
    }
}
