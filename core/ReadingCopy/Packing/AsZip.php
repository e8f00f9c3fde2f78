<?php

declare(strict_types=1);

namespace Geschenk\Core\ReadingCopy\Packing;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Progress;

/** One file, which may be locked (AES-256) so that strangers' tools open it with the password. */
final class AsZip implements Packing
{
    /** What is small already is only put in. */
    private const SMALL_ALREADY = ['jpg', 'png', 'gif', 'webp', 'mp4', 'ogg', 'zip', 'm4a', 'mp3', 'heic'];

    public static function name(): string
    {
        return 'zip';
    }

    public function ending(): string
    {
        return '.zip';
    }

    public function canLock(): bool
    {
        return true;
    }

    public function pack(
        string $folder,
        string $target,
        array $told,
        #[\SensitiveParameter] ?string $password,
        Progress $progress,
    ): string {
        Folder::remove($target);
        $zip = new \ZipArchive();
        if (true !== $zip->open($target, \ZipArchive::CREATE | \ZipArchive::EXCL)) {
            throw DiskFailure::at('make', $target);
        }
        $bytes = $files = 0;
        // A file's time in a ZIP is without a zone: the shop's, as the names have it.
        foreach (Folder::files($folder) as $path) {
            $this->add($zip, $folder.'/'.$path, $path, $password);
            $bytes += (int) filesize($folder.'/'.$path);
            ++$files;
        }
        $progress->phase('packing', $files, $bytes);
        $told = 0.0;
        $stopped = null;
        $zip->registerProgressCallback(0.001, static function (float $share) use (
            &$told, &$stopped, $progress, $bytes, $files,
        ): void {
            try {
                $progress->advance((int) (($share - $told) * $files), (int) (($share - $told) * $bytes));
                $told = $share;
            } catch (\Throwable $stop) {
                $stopped = $stop;
            }
        });
        // Nothing may be thrown through the library: it is told to stop, and then it is said.
        $zip->registerCancelCallback(static function () use (&$stopped): int {
            return null === $stopped ? 0 : -1;
        });
        $isMade = Disk::quietly(static fn (): bool => $zip->close());
        if (null !== $stopped) {
            throw $stopped;
        }
        if (!$isMade) {
            throw Disk::failure('write', $target);
        }
        $this->ensureWhole($target, $files, $password);
        Disk::sync($target);

        return $target;
    }

    private function add(
        \ZipArchive $zip,
        string $full,
        string $path,
        #[\SensitiveParameter] ?string $password,
    ): void {
        $isIn = $zip->addFile($full, $path, 0, 0, \ZipArchive::FL_ENC_UTF_8);
        if (in_array(pathinfo($path, \PATHINFO_EXTENSION), self::SMALL_ALREADY, true)) {
            $isIn = $isIn && $zip->setCompressionName($path, \ZipArchive::CM_STORE);
        }
        if (null !== $password) {
            $isIn = $isIn && $zip->setEncryptionName($path, \ZipArchive::EM_AES_256, $password);
        }
        if (!$isIn) {
            throw DiskFailure::at('read', $full, $zip->getStatusString());
        }
    }

    /** Reads each of its files back: what a ZIP says of itself is checked by whoever unpacks it to the end. */
    private function ensureWhole(string $target, int $files, #[\SensitiveParameter] ?string $password): void
    {
        $zip = new \ZipArchive();
        if (true !== $zip->open($target, \ZipArchive::RDONLY) || $files !== $zip->numFiles) {
            throw DiskFailure::at('read', $target);
        }
        if (null !== $password) {
            $zip->setPassword($password);
        }
        for ($n = 0; $n < $files; ++$n) {
            $promised = $zip->statIndex($n);
            $stream = $zip->getStreamIndex($n);
            if (false === $promised || false === $stream) {
                throw DiskFailure::at('read', $target);
            }
            $bytes = 0;
            $sum = hash_init('crc32b');
            while (!feof($stream)) {
                $piece = (string) fread($stream, 1_048_576);
                $bytes += strlen($piece);
                hash_update($sum, $piece);
            }
            fclose($stream);
            // The library itself looks at its sum only where it reads beyond the end.
            if ($bytes !== $promised['size'] || hexdec(hash_final($sum)) !== ($promised['crc'] & 0xFFFFFFFF)) {
                throw DiskFailure::at('read', $target);
            }
        }
        $zip->close();
    }
}
