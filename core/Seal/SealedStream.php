<?php

declare(strict_types=1);

namespace Geschenk\Core\Seal;

/** The content of a sealed file as a stream of PHP's: what reads streams need not know. A piece is in memory. */
final class SealedStream
{
    private const SCHEME = 'geschenk-sealed';

    /** @var resource|null set by PHP */
    public mixed $context = null;
    private ?SealedReading $reading = null;
    private int $at = 0;
    private int $n = -1;
    private string $piece = '';

    /** @return resource */
    public static function of(SealedReading $reading): mixed
    {
        if (!in_array(self::SCHEME, stream_get_wrappers(), true)) {
            stream_wrapper_register(self::SCHEME, self::class);
        }
        $context = stream_context_create([self::SCHEME => ['reading' => $reading]]);
        $stream = fopen(self::SCHEME.'://', 'r', false, $context)
            ?: throw new \LogicException('A stream over a file that is open could not be opened.');
        stream_set_chunk_size($stream, SealedFile::PIECE);

        return $stream;
    }

    // phpcs:ignore -- names and shapes of these are PHP's
    public function stream_open(string $path, string $mode, int $options, ?string &$opened): bool
    {
        $told = null === $this->context ? null : stream_context_get_options($this->context)[self::SCHEME] ?? null;
        $reading = is_array($told) ? $told['reading'] ?? null : null;
        $this->reading = $reading instanceof SealedReading ? $reading : null;

        return null !== $this->reading;
    }

    public function stream_read(int $count): string
    {
        $bytes = $this->reading->bytes ?? 0;
        if (null === $this->reading || $this->at >= $bytes) {
            return '';
        }
        $n = intdiv($this->at, SealedFile::PIECE);
        if ($n !== $this->n) {
            $this->piece = $this->reading->piece($n);
            $this->n = $n;
        }
        $read = substr($this->piece, $this->at % SealedFile::PIECE, $count);
        $this->at += strlen($read);

        return $read;
    }

    public function stream_eof(): bool
    {
        return $this->at >= ($this->reading->bytes ?? 0);
    }

    public function stream_tell(): int
    {
        return $this->at;
    }

    public function stream_seek(int $offset, int $whence): bool
    {
        $to = $offset + match ($whence) {
            \SEEK_CUR => $this->at,
            \SEEK_END => $this->reading->bytes ?? 0,
            default => 0,
        };
        if ($to < 0) {
            return false;
        }
        $this->at = $to;

        return true;
    }

    /** @return array{size: int, mode: int} */
    public function stream_stat(): array
    {
        return ['size' => $this->reading->bytes ?? 0, 'mode' => 0o100400];
    }

    public function stream_close(): void
    {
        $this->reading?->close();
        $this->reading = null;
    }
}
