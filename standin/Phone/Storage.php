<?php

declare(strict_types=1);

namespace Geschenk\Standin\Phone;

/**
 * How much a stand-in phone's files take. A real phone's file system keeps count of it: it is asked with every look at
 * a phone, so large folders in which nothing came or went are not gone through again.
 */
final class Storage
{
    /** A folder with so many files is remembered: these are a messenger's attachments, which are written once. */
    private const MANY = 30;
    /** Seconds: what has changed just now may change once more within the same second of its clock. */
    private const SETTLED = 2;

    /** @var array<string, array{mark: string, bytes: int, folders: list<string>}> by path */
    private static array $known = [];

    /**
     * Bytes of all regular files below a folder; links are not followed.
     *
     * @param bool $isSettled false where files grow in their places: each is looked at each time
     */
    public static function bytes(string $folder, bool $isSettled = true): int
    {
        clearstatcache(true, $folder);
        $stat = @lstat($folder);
        if (false === $stat || 0o040000 !== ($stat['mode'] & 0o170000)) {
            unset(self::$known[$folder]);

            return 0;
        }
        $mark = $stat['ino'].' '.$stat['mtime'].' '.$stat['size'].' '.$stat['nlink'];
        $found = self::$known[$folder] ?? null;
        if (null === $found || $found['mark'] !== $mark) {
            $found = ['mark' => $mark] + self::look($folder);
            unset(self::$known[$folder]);
            if ($isSettled && $found['files'] >= self::MANY && $stat['mtime'] < time() - self::SETTLED) {
                self::$known[$folder] = [
                    'mark' => $mark, 'bytes' => $found['bytes'], 'folders' => $found['folders'],
                ];
            }
        }
        $bytes = $found['bytes'];
        foreach ($found['folders'] as $below) {
            $bytes += self::bytes($below, $isSettled);
        }

        return $bytes;
    }

    /** @return array{files: int, bytes: int, folders: list<string>} what lies directly in a folder */
    private static function look(string $folder): array
    {
        $files = $bytes = 0;
        $folders = [];
        foreach (@scandir($folder, \SCANDIR_SORT_NONE) ?: [] as $name) {
            if ('.' === $name || '..' === $name) {
                continue;
            }
            $path = $folder.'/'.$name;
            // One look at each: whatever is no file and no folder takes nothing.
            $type = @filetype($path);
            if ('dir' === $type) {
                $folders[] = $path;
            } elseif ('file' === $type) {
                ++$files;
                $bytes += (int) @filesize($path);
            }
        }

        return ['files' => $files, 'bytes' => $bytes, 'folders' => $folders];
    }
}
