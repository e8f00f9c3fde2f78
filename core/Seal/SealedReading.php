<?php

declare(strict_types=1);

namespace Geschenk\Core\Seal;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;

/**
 * A sealed file that is being read, piece by piece, in any order.
 *
 * @internal of SealedFile and SealedStream
 */
final readonly class SealedReading
{
    /** @param resource $stream */
    private function __construct(
        private mixed $stream,
        private string $path,
        private string $of,
        #[\SensitiveParameter] private string $key,
        /** of the file on the disk */
        private int $sealed,
        public int $pieces,
        /** of the content */
        public int $bytes,
    ) {
    }

    /**
     * @throws SealBroken
     * @throws DiskFailure
     */
    public static function begin(SealedFile $file): self
    {
        if (!$file->isThere()) {
            throw SealBroken::at($file->of);
        }
        $stream = Disk::open($file->path, 'r');
        $sealed = (int) (fstat($stream)['size'] ?? 0);
        try {
            $key = $file->keyFor(Disk::read($stream, SealedFile::HEAD, $file->path));
        } catch (SealBroken $broken) {
            fclose($stream);
            throw $broken;
        }
        $pieces = SealedFile::piecesIn($sealed);
        if (0 === $pieces) {
            fclose($stream);
            throw SealBroken::at($file->of);
        }

        return new self($stream, $file->path, $file->of, $key, $sealed, $pieces, SealedFile::contentBytes($sealed));
    }

    /**
     * @throws SealBroken
     * @throws DiskFailure
     */
    public function piece(int $n): string
    {
        $length = SealedFile::PIECE + SealedFile::ADDED;
        $at = SealedFile::HEAD + $n * $length;
        if ($at !== ftell($this->stream) && 0 !== fseek($this->stream, $at)) {
            throw DiskFailure::at('read', $this->path);
        }
        $here = min($length, $this->sealed - $at);
        $sealed = Disk::read($this->stream, $here, $this->path);
        $opened = strlen($sealed) === $here
            ? SealedFile::opened($sealed, $this->key, $n, $n === $this->pieces - 1)
            : null;

        return $opened ?? throw SealBroken::at($this->of);
    }

    public function close(): void
    {
        fclose($this->stream);
    }
}
