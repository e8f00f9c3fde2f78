<?php

declare(strict_types=1);

namespace Geschenk\Core\ReadingCopy;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\UnusableInput;

/** Where a copy for reading is made before it goes onto a stick. */
final readonly class CopyFolder
{
    /** The hashes of all that is in it, in the form that `sha256sum -c` reads. */
    public const SUMS = 'SHA256SUMS';

    /**
     * @param int                  $asOf    Unix time that what is written gets: the same chats give the same files
     * @param \Closure(int): void $onBytes told the bytes of each file as it is done
     */
    public function __construct(public string $folder, private int $asOf, private \Closure $onBytes)
    {
    }

    /**
     * @return resource a stream to write to, for finish()
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function begin(string $path): mixed
    {
        return Disk::open($this->full($path), 'w');
    }

    /**
     * @param resource $stream
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function write(mixed $stream, string $text, string $path): void
    {
        Disk::write($stream, $text, $path);
    }

    /** @param resource $stream */
    public function finish(mixed $stream, string $path): void
    {
        if (!fclose($stream)) {
            throw DiskFailure::at('write', $path);
        }
        $this->finished($path);
    }

    /** What somebody else has written there. */
    public function finished(string $path): void
    {
        touch($this->full($path), $this->asOf);
        ($this->onBytes)((int) filesize($this->full($path)));
    }

    /** What was needed on the way. */
    public function remove(string $path): void
    {
        Folder::discard($this->full($path));
    }

    /**
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function put(string $path, string $text): void
    {
        $stream = $this->begin($path);
        $this->write($stream, $text, $path);
        $this->finish($stream, $path);
    }

    /**
     * Puts an attachment there, of the day when it was sent. What lies there whole of an attempt before is kept.
     *
     * @param string $path   that it gets
     * @param int    $sentAt milliseconds since 1970 UTC
     *
     * @throws UnusableInput when the backup does not hold it any more as it was kept: then nothing of it lies there
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function attach(AttachmentFiles $files, Attachment $attachment, string $path, int $sentAt): void
    {
        $full = $this->full($path);
        try {
            if (!$files->put($attachment->path, $full, $attachment->sha256)) {
                throw UnusableInput::backupBroken('@backup', 'missing', $attachment->path);
            }
            // What goes home is what was kept, or nothing does.
            if (null !== $attachment->sha256 && Disk::sha256($full) !== $attachment->sha256) {
                throw UnusableInput::backupBroken('@backup', 'changed', $attachment->path);
            }
        } catch (UnusableInput $broken) {
            Folder::discard($full);
            throw $broken;
        }
        // What file systems hold; a phone's clock may say anything.
        touch($full, max(315_532_800, min(intdiv($sentAt, 1000), 4_102_444_800)));
        ($this->onBytes)((int) filesize($full));
    }

    /**
     * Lists all that is in it, with its hash.
     *
     * @return array{files: int, bytes: int, sha256: string} without the list itself; the hash is the list's
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function sum(): array
    {
        $files = $bytes = 0;
        $list = $this->begin(self::SUMS);
        $hash = hash_init('sha256');
        foreach (Folder::files($this->folder) as $path) {
            if (self::SUMS === $path) {
                continue;
            }
            $line = Disk::sha256($this->folder.'/'.$path).'  '.$path."\n";
            $this->write($list, $line, self::SUMS);
            hash_update($hash, $line);
            $size = (int) filesize($this->folder.'/'.$path);
            ++$files;
            $bytes += $size;
            ($this->onBytes)($size);
        }
        $this->finish($list, self::SUMS);

        return ['files' => $files, 'bytes' => $bytes, 'sha256' => hash_final($hash)];
    }

    private function full(string $path): string
    {
        if (!Folder::staysInside($path)) {
            throw new \LogicException('A copy is made inside its folder.');
        }
        Folder::make(dirname($this->folder.'/'.$path));

        return $this->folder.'/'.$path;
    }
}
