<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

use Geschenk\Core\Files\Content\ManyHashes;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Progress;
use Geschenk\Core\UnusableInput;

/** A bag as RFC 8493 describes it, version 1.0, with SHA-256 manifests. */
final class Bag
{
    public const PAYLOAD = 'data';
    public const INFO = 'bag-info.txt';
    public const MANIFEST = 'manifest-sha256.txt';
    /** All that is in one besides its payload. */
    public const TAGS = ['bagit.txt', self::INFO, self::MANIFEST, 'tagmanifest-sha256.txt'];
    /** Bytes: so often whoever waits for it is told how far it is. */
    private const PORTION = 200_000_000;
    /** Bytes of a line of a manifest at most: a path that no file system has is longer. */
    private const LONGEST_LINE = 20_000;
    private const DECLARATION = "BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n";

    public static function recognises(string $folder): bool
    {
        return is_file($folder.'/bagit.txt') && is_dir($folder.'/'.self::PAYLOAD);
    }

    /**
     * Writes the tag files around a payload that is already in data/, and waits until they are on the disk.
     *
     * @param array<string, string>             $info    labels and values of bag-info.txt
     * @param callable(string): (string|null)   $hashOf  a hash computed earlier, by path below the bag; null to compute
     * it now
     * @param callable(int): void               $onBytes told the bytes of each file as it is done
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public static function pack(string $folder, array $info, callable $hashOf, callable $onBytes): void
    {
        $name = $folder.'/manifest-sha256.txt';
        $manifest = Disk::open($name, 'w');
        $bytes = 0;
        $files = 0;
        foreach (Folder::files($folder, self::PAYLOAD) as $path) {
            $hash = $hashOf($path) ?? Disk::sha256($folder.'/'.$path);
            Disk::write($manifest, $hash.'  '.self::encode($path)."\n", $name);
            $size = (int) filesize($folder.'/'.$path);
            $bytes += $size;
            ++$files;
            $onBytes($size);
        }
        Disk::finish($manifest, $name);
        Disk::put($folder.'/bagit.txt', self::DECLARATION);
        $text = '';
        foreach ([...$info, 'Payload-Oxum' => $bytes.'.'.$files] as $label => $value) {
            $text .= $label.': '.preg_replace('/\s+/', ' ', $value)."\n";
        }
        Disk::put($folder.'/bag-info.txt', $text);
        $tags = '';
        foreach (['bag-info.txt', 'bagit.txt', 'manifest-sha256.txt'] as $tag) {
            $tags .= Disk::sha256($folder.'/'.$tag).'  '.$tag."\n";
        }
        Disk::put($folder.'/tagmanifest-sha256.txt', $tags);
    }

    /** @return array<string, string> the lines of bag-info.txt, by label */
    public static function info(string $folder): array
    {
        return self::infoIn((string) @file_get_contents($folder.'/'.self::INFO));
    }

    /** @return array<string, string> the same, of its text */
    public static function infoIn(string $text): array
    {
        $info = [];
        foreach (explode("\n", $text) as $line) {
            if (1 === preg_match('/^([^:]+): (.*)$/D', $line, $parts)) {
                $info[$parts[1]] = $parts[2];
            }
        }

        return $info;
    }

    /**
     * Checks every file of the bag against its manifests.
     *
     * @throws UnusableInput naming the first thing that is wrong
     */
    public static function validate(string $folder, Progress $progress = new NoProgress()): void
    {
        self::checkTags($folder);
        [$bytes, $files] = self::oxum($folder) ?? [0, 0];
        $progress->phase('reading_back', $files, $bytes);
        ['files' => $listed, 'bytes' => $bytes] = self::checkManifest($folder, 'manifest-sha256.txt', $progress);
        $present = 0;
        foreach (Folder::files($folder, self::PAYLOAD) as $_) {
            ++$present;
        }
        if ($present !== $listed) {
            throw UnusableInput::backupBroken($folder, 'other_files', '', $present, $listed);
        }
        $oxum = self::oxum($folder);
        if (null !== $oxum && [$bytes, $listed] !== $oxum) {
            throw UnusableInput::backupBroken($folder, 'other_size', '', $bytes, $oxum[0]);
        }
    }

    /**
     * What it promises, for whoever holds each file against it by themselves; that there are no others is said at the
     * end.
     *
     * @return \Generator<int, array{path: string, sha256: string}> files of the payload, by their paths below the bag
     *
     * @throws UnusableInput naming the first thing that is wrong
     */
    public static function promised(string $folder): \Generator
    {
        self::checkTags($folder);
        $lines = Disk::open($folder.'/'.self::MANIFEST, 'r');
        $listed = 0;
        try {
            while (false !== ($line = fgets($lines, self::LONGEST_LINE))) {
                ++$listed;
                yield self::listed($line) ?? throw UnusableInput::backupBroken(
                    $folder, 'bad_line', self::MANIFEST, $listed,
                );
            }
        } finally {
            fclose($lines);
        }
        $present = 0;
        foreach (Folder::files($folder, self::PAYLOAD) as $_) {
            ++$present;
        }
        if ($present !== $listed) {
            throw UnusableInput::backupBroken($folder, 'other_files', '', $present, $listed);
        }
    }

    /** @throws UnusableInput */
    private static function checkTags(string $folder): void
    {
        if (!self::recognises($folder) || self::DECLARATION !== file_get_contents($folder.'/bagit.txt')) {
            throw UnusableInput::backupBroken($folder, 'no_bag');
        }
        $tags = self::checkManifest($folder, 'tagmanifest-sha256.txt', new NoProgress());
        if (!isset($tags['paths']['manifest-sha256.txt'], $tags['paths']['bagit.txt'])) {
            throw UnusableInput::backupBroken($folder, 'manifest_not_listed');
        }
    }

    /** @return array{int, int}|null bytes and files of the payload, as it says itself; null where it doesn't */
    public static function oxum(string $folder): ?array
    {
        $info = is_file($folder.'/bag-info.txt') ? Disk::contents($folder.'/bag-info.txt') : '';

        return 1 === preg_match('/^Payload-Oxum: (\d+)\.(\d+)\r?$/m', $info, $oxum)
            ? [(int) $oxum[1], (int) $oxum[2]]
            : null;
    }

    /** @return array{files: int, bytes: int, paths: array<string, string>} what it lists; of the payload no paths */
    private static function checkManifest(string $folder, string $manifest, Progress $progress): array
    {
        $lines = @fopen($folder.'/'.$manifest, 'r');
        if (false === $lines) {
            throw UnusableInput::backupBroken($folder, 'missing', $manifest);
        }
        $listed = $bytes = $waiting = 0;
        $paths = $portion = [];
        while (false !== ($line = fgets($lines))) {
            $file = self::listed($line) ?? throw UnusableInput::backupBroken(
                $folder, 'bad_line', $manifest, $listed + 1,
            );
            ++$listed;
            $path = $file['path'];
            $portion[] = $file;
            $waiting += (int) @filesize($folder.'/'.$path);
            if (count($portion) >= ManyHashes::AT_ONCE || $waiting > self::PORTION) {
                $bytes += self::checkFiles($folder, $portion, $progress);
                $portion = [];
                $waiting = 0;
            }
            if (!str_starts_with($path, self::PAYLOAD.'/')) {
                $paths[$path] = $path;
            }
        }
        fclose($lines);
        $bytes += self::checkFiles($folder, $portion, $progress);

        return ['files' => $listed, 'bytes' => $bytes, 'paths' => $paths];
    }

    /**
     * @param list<array{path: string, sha256: string}> $files
     *
     * @return int their bytes
     */
    private static function checkFiles(string $folder, array $files, Progress $progress): int
    {
        $bytes = 0;
        foreach ($files as $file) {
            if (!Folder::hasPlain($folder, $file['path'])) {
                throw UnusableInput::backupBroken($folder, 'missing', $file['path']);
            }
            $bytes += (int) filesize($folder.'/'.$file['path']);
        }
        $hashes = ManyHashes::of(array_map(static fn (array $file): string => $folder.'/'.$file['path'], $files));
        foreach ($files as $n => $file) {
            try {
                $isSame = hash_equals($file['sha256'], $hashes[$n] ?? Disk::sha256($folder.'/'.$file['path']));
            } catch (DiskFailure) {
                throw UnusableInput::backupBroken($folder, 'unreadable', $file['path']);
            }
            if (!$isSame) {
                throw UnusableInput::backupBroken($folder, 'changed', $file['path']);
            }
        }
        $progress->advance(count($files), $bytes);

        return $bytes;
    }

    /** @return array{path: string, sha256: string}|null what a line of a manifest lists; null where it is none */
    public static function listed(string $line): ?array
    {
        return 1 === preg_match('/^([0-9a-f]{64})[ \t]+(.+?)\r?\n?$/', $line, $found)
            && Folder::staysInside($path = self::decode($found[2]))
            ? ['path' => $path, 'sha256' => $found[1]]
            : null;
    }

    /** RFC 8493, 2.1.3: CR, LF and the percent sign itself are percent-encoded in paths. */
    private static function encode(string $path): string
    {
        return strtr($path, ['%' => '%25', "\r" => '%0D', "\n" => '%0A']);
    }

    private static function decode(string $path): string
    {
        return str_ireplace(['%0D', '%0A', '%25'], ["\r", "\n", '%'], $path);
    }
}
