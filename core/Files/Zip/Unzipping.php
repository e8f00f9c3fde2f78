<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Zip;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Progress;

/**
 * Unpacks a ZIP that came from somebody else, or says why it does not: what is in it is looked through before the first
 * file is written, and each file is held against what was promised of it. For a process of its own, within limits.
 */
final class Unzipping
{
    /** Entries of one. */
    public const MOST = 100_000;
    /** Bytes that come out of one. */
    public const LARGEST = 50_000_000_000;
    /** What comes out of one byte at most, beside the first so many: chats shrink to a twentieth, a bomb to nothing. */
    private const SWELLS = 100;
    private const ANYWAY = 100_000_000;
    /** Bytes of a path and of each of its names. */
    private const LONGEST_PATH = 1_000;
    private const LONGEST_NAME = 255;
    private const PIECE = 1_048_576;
    /** Bytes of a header before its name, and folders that are looked behind for a file. */
    private const HEAD = 30;
    private const MOST_FOLDERS = 500;
    /** Of st_mode (stat(2)): what kind of file it is, a plain one, a folder. */
    private const KIND = 0o170000;
    private const PLAIN = 0o100000;
    private const FOLDER = 0o040000;

    private readonly AesEntries $locked;

    /** @param string $name what errors call it */
    private function __construct(
        private readonly string $path,
        private readonly \ZipArchive $zip,
        private readonly string $name,
        #[\SensitiveParameter] private readonly ?string $password,
    ) {
        $this->locked = new AesEntries($path);
    }

    /** Whether a file is one, by its first bytes. */
    public static function recognises(string $path): bool
    {
        return is_file($path) && "PK\x03\x04" === @file_get_contents($path, false, null, 0, 4);
    }

    /** Whether its first file is under a password, by the headers before it (APPNOTE 4.3.7; 4.4.4, bit 0). */
    public static function isLocked(string $path): bool
    {
        $at = 0;
        for ($n = 0; $n < self::MOST_FOLDERS; ++$n) {
            $head = (string) @file_get_contents($path, false, null, $at, self::HEAD);
            if (self::HEAD !== strlen($head)) {
                return false;
            }
            /** @var array{flags: int, packed: int, name: int, extra: int} $told */
            $told = unpack('x6/vflags/x10/Vpacked/x4/vname/vextra', $head);
            $name = (string) @file_get_contents($path, false, null, $at + self::HEAD, max(0, $told['name']));
            // A folder has nothing in it that could be locked.
            if (0 !== $told['packed'] || !str_ends_with($name, '/')) {
                return 1 === ($told['flags'] & 1);
            }
            $at += self::HEAD + $told['name'] + $told['extra'];
        }

        return false;
    }

    /**
     * @param string      $folder that is made, and is gone again where it fails
     * @param string|null $name   what errors call it; its path where nothing else is said
     *
     * @throws UnusableZip
     * @throws DiskFull
     * @throws DiskFailure
     */
    public static function unpack(
        string $path,
        #[\SensitiveParameter] ?string $password,
        string $folder,
        Progress $progress,
        ?string $name = null,
    ): void {
        $zip = new \ZipArchive();
        $code = @$zip->open($path, \ZipArchive::RDONLY);
        if (true !== $code) {
            throw in_array($code, [\ZipArchive::ER_NOZIP, \ZipArchive::ER_INCONS, \ZipArchive::ER_EOF], true)
                ? UnusableZip::cut($name ?? $path)
                : UnusableZip::broken($name ?? $path);
        }
        null === $password || '' === $password ?: $zip->setPassword($password);
        Folder::make($folder);
        $isDone = false;
        try {
            (new self($path, $zip, $name ?? $path, $password))->all($folder, $progress);
            $isDone = true;
        } finally {
            @$zip->close();
            $isDone ?: Folder::remove($folder);
        }
    }

    /** @throws UnusableZip */
    private function all(string $folder, Progress $progress): void
    {
        [$files, $bytes] = $this->lookThrough();
        $progress->phase('unpacking', $files, $bytes);
        for ($n = 0; $n < $this->zip->numFiles; ++$n) {
            $entry = $this->entry($n);
            if (!str_ends_with($entry['name'], '/')) {
                $this->put($n, $folder.'/'.$entry['name'], $progress);
                @touch($folder.'/'.$entry['name'], $entry['mtime']);
                $progress->advance(1);
            }
        }
    }

    /**
     * @return array{int, int} files, and their bytes as they are promised
     *
     * @throws UnusableZip
     */
    private function lookThrough(): array
    {
        $count = $this->zip->numFiles;
        $count <= self::MOST ?: throw UnusableZip::tooMany($this->name, $count, self::MOST);
        $files = $bytes = 0;
        /** @var array<string, bool> $names as a file system without cases has them; whether it is a file */
        $names = [];
        for ($n = 0; $n < $count; ++$n) {
            $entry = $this->entry($n);
            $name = $entry['name'];
            $isFile = !str_ends_with($name, '/');
            $this->ensurePlain($n, $name, $isFile);
            $this->ensureAlone(rtrim($name, '/'), $isFile, $names);
            if (!$isFile) {
                continue;
            }
            ++$files;
            $bytes += $entry['size'];
            if (\ZipArchive::EM_NONE !== $entry['encryption_method'] && null === $this->password) {
                throw UnusableZip::needsPassword($this->name);
            }
        }
        $packed = (int) filesize($this->path);
        if ($bytes > self::LARGEST || $bytes > self::ANYWAY + self::SWELLS * $packed) {
            throw UnusableZip::swells($this->name, $bytes, $packed);
        }

        return [$files, $bytes];
    }

    /** @throws UnusableZip where it would lie elsewhere, or is no plain file */
    private function ensurePlain(int $n, string $name, bool $isFile): void
    {
        $inside = $isFile ? $name : substr($name, 0, -1);
        if (!mb_check_encoding($name, 'UTF-8') || 1 === preg_match('/[\x00-\x1f\x7f]/', $name)
            || !Folder::staysInside($inside) || strlen($inside) > self::LONGEST_PATH
            || [] !== array_filter(
                explode('/', $inside), static fn (string $part): bool => strlen($part) > self::LONGEST_NAME,
            )) {
            throw UnusableZip::leadsOut($this->name, $name);
        }
        $system = $attributes = 0;
        $this->zip->getExternalAttributesIndex($n, $system, $attributes);
        $kind = \ZipArchive::OPSYS_UNIX === $system && is_int($attributes) ? ($attributes >> 16) & self::KIND : 0;
        if (!in_array($kind, [0, $isFile ? self::PLAIN : self::FOLDER], true)) {
            throw UnusableZip::noPlainFile($this->name, $name);
        }
    }

    /**
     * Nobody knows which of two is meant: they are the same on some file systems, or one lies below the other.
     *
     * @param array<string, bool> $names
     *
     * @throws UnusableZip
     */
    private function ensureAlone(string $name, bool $isFile, array &$names): void
    {
        $key = self::key($name);
        if (isset($names[$key]) && ($isFile || $names[$key])) {
            throw UnusableZip::twice($this->name, $name);
        }
        $names[$key] = $isFile;
        while (false !== ($slash = strrpos($key, '/'))) {
            $key = substr($key, 0, $slash);
            if ($names[$key] ?? false) {
                throw UnusableZip::twice($this->name, $name);
            }
            if (isset($names[$key])) {
                return;
            }
            $names[$key] = false;
        }
    }

    private static function key(string $name): string
    {
        $same = class_exists(\Normalizer::class) ? \Normalizer::normalize($name, \Normalizer::FORM_C) : $name;

        return mb_strtolower(is_string($same) ? $same : $name, 'UTF-8');
    }

    /**
     * @throws UnusableZip
     * @throws DiskFull
     * @throws DiskFailure
     */
    private function put(int $n, string $target, Progress $progress): void
    {
        $entry = $this->entry($n);
        $source = @$this->zip->getStreamIndex($n);
        if (false === $source) {
            throw match (true) {
                \ZipArchive::EM_NONE !== $entry['encryption_method'] => UnusableZip::wrongPassword($this->name),
                default => UnusableZip::fileDamaged($this->name, $entry['name']),
            };
        }
        if (AesEntries::areMeantBy($entry['encryption_method']) && !$this->locked->isWhole(
            $n, $entry['encryption_method'], $entry['comp_size'], $this->password ?? '',
        )) {
            throw UnusableZip::fileDamaged($this->name, $entry['name']);
        }
        Folder::make(dirname($target));
        $to = Disk::open($target, 'x');
        $crc = hash_init('crc32b');
        $bytes = 0;
        try {
            while ($bytes < $entry['size'] && '' !== ($piece = (string) @fread($source, self::PIECE))) {
                $bytes += strlen($piece);
                hash_update($crc, $piece);
                Disk::write($to, $piece, $target);
                $progress->advance(0, strlen($piece));
            }
            // There is no more of it than it says.
            $bytes += strlen((string) @fread($source, 1));
        } finally {
            fclose($source);
            fclose($to);
        }
        // One that is locked may have no such sum: then its code has told that it is whole.
        $sum = hexdec(hash_final($crc));
        $hasSum = 0 !== $entry['crc'] || !AesEntries::areMeantBy($entry['encryption_method']);
        if ($bytes !== $entry['size'] || ($hasSum && $sum !== ($entry['crc'] & 0xFFFFFFFF))) {
            throw UnusableZip::fileDamaged($this->name, $entry['name']);
        }
    }

    /**
     * @return array{name: string, size: int, comp_size: int, crc: int, mtime: int, encryption_method: int}
     *
     * @throws UnusableZip
     */
    private function entry(int $n): array
    {
        $entry = $this->zip->statIndex($n);
        if (false === $entry) {
            throw UnusableZip::broken($this->name);
        }

        return [
            'name' => $entry['name'], 'size' => $entry['size'], 'comp_size' => $entry['comp_size'],
            'crc' => $entry['crc'], 'mtime' => $entry['mtime'], 'encryption_method' => $entry['encryption_method'],
        ];
    }
}
