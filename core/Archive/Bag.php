<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

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
     * Writes the tag files around a payload that is already in data/.
     *
     * @param array<string, string>             $info     labels and values of bag-info.txt
     * @param callable(string): (string|null)   $hashOf   a hash computed earlier, by path below the bag; null to compute it now
     * @param callable(int): void               $onBytes  told the bytes of each file as it is done
     */
    public static function seal(string $folder, array $info, callable $hashOf, callable $onBytes): void
    {
        $manifest = self::openForWriting($folder.'/manifest-sha256.txt');
        $bytes = 0;
        $files = 0;
        foreach (Folder::files($folder, self::PAYLOAD) as $path) {
            $hash = $hashOf($path) ?? hash_file('sha256', $folder.'/'.$path);
            fwrite($manifest, $hash.'  '.self::encode($path)."\n");
            $size = (int) filesize($folder.'/'.$path);
            $bytes += $size;
            ++$files;
            $onBytes($size);
        }
        fclose($manifest);
        file_put_contents($folder.'/bagit.txt', self::DECLARATION);
        $text = '';
        foreach ([...$info, 'Payload-Oxum' => $bytes.'.'.$files] as $label => $value) {
            $text .= $label.': '.preg_replace('/\s+/', ' ', $value)."\n";
        }
        file_put_contents($folder.'/bag-info.txt', $text);
        $tags = '';
        foreach (['bag-info.txt', 'bagit.txt', 'manifest-sha256.txt'] as $tag) {
            $tags .= hash_file('sha256', $folder.'/'.$tag).'  '.$tag."\n";
        }
        file_put_contents($folder.'/tagmanifest-sha256.txt', $tags);
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
        foreach (['tagmanifest-sha256.txt', 'manifest-sha256.txt'] as $manifest) {
            $listed = self::checkManifest($folder, $manifest);
        }
        $present = 0;
        foreach (Folder::files($folder, self::PAYLOAD) as $_) {
            ++$present;
        }
        if ($present !== $listed) {
            throw UnusableInput::backupBroken($folder, sprintf('%d files are in it and its manifest lists %d', $present, $listed));
        }
    }

    /** @return int how many files it lists */
    private static function checkManifest(string $folder, string $manifest): int
    {
        $lines = @fopen($folder.'/'.$manifest, 'r');
        if (false === $lines) {
            throw UnusableInput::backupBroken($folder, $manifest.' is missing');
        }
        $listed = 0;
        while (false !== ($line = fgets($lines))) {
            if (1 !== preg_match('/^([0-9a-f]{64})[ \t]+(.+?)\r?\n?$/', $line, $found) || !Folder::staysInside($path = self::decode($found[2]))) {
                throw UnusableInput::backupBroken($folder, sprintf('line %d of %s is not a hash and a path inside the backup', $listed + 1, $manifest));
            }
            ++$listed;
            if (!is_file($folder.'/'.$path) || is_link($folder.'/'.$path)) {
                throw UnusableInput::backupBroken($folder, sprintf('%s is missing', $path));
            }
            if (hash_file('sha256', $folder.'/'.$path) !== $found[1]) {
                throw UnusableInput::backupBroken($folder, sprintf('%s is not what it was when it was sealed', $path));
            }
        }
        fclose($lines);

        return $listed;
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

    /** @return resource */
    private static function openForWriting(string $path): mixed
    {
        return fopen($path, 'w') ?: throw new \RuntimeException(sprintf('%s can\'t be written.', $path));
    }
}
