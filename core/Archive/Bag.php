<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

use Geschenk\Core\Files\Disk;
use Geschenk\Core\Files\DiskFailure;
use Geschenk\Core\Files\DiskFull;
use Geschenk\Core\Files\Folder;
use Geschenk\Core\Messenger\UnusableInput;

/** A bag as RFC 8493 describes it, version 1.0, with SHA-256 manifests. */
final class Bag
{
    public const PAYLOAD = 'data';
    private const DECLARATION = "BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n";

    public static function recognises(string $folder): bool
    {
        return is_file($folder.'/bagit.txt') && is_dir($folder.'/'.self::PAYLOAD);
    }

    /**
     * Writes the tag files around a payload that is already in data/, and waits until they are on the disk.
     *
     * @param array<string, string>             $info    labels and values of bag-info.txt
     * @param callable(string): (string|null)   $hashOf  a hash computed earlier, by path below the bag; null to compute it now
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

    /**
     * Checks every file of the bag against its manifests.
     *
     * @throws UnusableInput naming the first thing that is wrong
     */
    public static function validate(string $folder): void
    {
        if (!self::recognises($folder) || self::DECLARATION !== file_get_contents($folder.'/bagit.txt')) {
            throw UnusableInput::backupBroken($folder, 'its bagit.txt is missing or not of version 1.0');
        }
        $tags = self::checkManifest($folder, 'tagmanifest-sha256.txt');
        if (!isset($tags['paths']['manifest-sha256.txt'], $tags['paths']['bagit.txt'])) {
            throw UnusableInput::backupBroken($folder, 'its tagmanifest-sha256.txt does not list its manifest');
        }
        ['files' => $listed, 'bytes' => $bytes] = self::checkManifest($folder, 'manifest-sha256.txt');
        $present = 0;
        foreach (Folder::files($folder, self::PAYLOAD) as $_) {
            ++$present;
        }
        if ($present !== $listed) {
            throw UnusableInput::backupBroken($folder, sprintf('%d files are in it and its manifest lists %d', $present, $listed));
        }
        if (1 === preg_match('/^Payload-Oxum: (\d+)\.(\d+)\r?$/m', is_file($folder.'/bag-info.txt') ? Disk::contents($folder.'/bag-info.txt') : '', $oxum) && [$bytes, $listed] !== [(int) $oxum[1], (int) $oxum[2]]) {
            throw UnusableInput::backupBroken($folder, sprintf('it has %d bytes in %d files and its bag-info.txt tells of %d in %d', $bytes, $listed, $oxum[1], $oxum[2]));
        }
    }

    /** @return array{files: int, bytes: int, paths: array<string, string>} what it lists; of the payload no paths */
    private static function checkManifest(string $folder, string $manifest): array
    {
        $lines = @fopen($folder.'/'.$manifest, 'r');
        if (false === $lines) {
            throw UnusableInput::backupBroken($folder, $manifest.' is missing');
        }
        $listed = $bytes = 0;
        $paths = [];
        while (false !== ($line = fgets($lines))) {
            if (1 !== preg_match('/^([0-9a-f]{64})[ \t]+(.+?)\r?\n?$/', $line, $found) || !Folder::staysInside($path = self::decode($found[2]))) {
                throw UnusableInput::backupBroken($folder, sprintf('line %d of %s is not a hash and a path inside the backup', $listed + 1, $manifest));
            }
            ++$listed;
            if (!Folder::hasPlain($folder, $path)) {
                throw UnusableInput::backupBroken($folder, sprintf('%s is missing', $path));
            }
            try {
                $isSame = hash_equals($found[1], Disk::sha256($folder.'/'.$path));
            } catch (DiskFailure) {
                throw UnusableInput::backupBroken($folder, sprintf('%s can’t be read from the disk', $path));
            }
            if (!$isSame) {
                throw UnusableInput::backupBroken($folder, sprintf('%s is not what it was when it was packed', $path));
            }
            $bytes += (int) filesize($folder.'/'.$path);
            if (!str_starts_with($path, self::PAYLOAD.'/')) {
                $paths[$path] = $path;
            }
        }
        fclose($lines);

        return ['files' => $listed, 'bytes' => $bytes, 'paths' => $paths];
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
