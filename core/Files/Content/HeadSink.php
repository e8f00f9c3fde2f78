<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Content;

/** A stream to write into that keeps the first bytes alone: for files that are hashed on their way and kept nowhere. */
final class HeadSink
{
    private const SCHEME = 'geschenk-head';

    /** @var resource|null set by PHP */
    public mixed $context = null;
    public string $head = '';

    /** @return resource */
    public static function open(): mixed
    {
        if (!in_array(self::SCHEME, stream_get_wrappers(), true)) {
            stream_wrapper_register(self::SCHEME, self::class);
        }

        return fopen(self::SCHEME.'://', 'w') ?: throw new \LogicException(
            'A stream that keeps nothing could not be opened.',
        );
    }

    /** @param resource $stream of open() */
    public static function headOf(mixed $stream): string
    {
        fflush($stream);
        $sink = stream_get_meta_data($stream)['wrapper_data'] ?? null;

        return $sink instanceof self ? $sink->head : '';
    }

    // phpcs:ignore -- names and shapes of these are PHP's
    public function stream_open(string $path, string $mode, int $options, ?string &$opened): bool
    {
        return true;
    }

    public function stream_write(string $bytes): int
    {
        if (strlen($this->head) < FileType::HEAD) {
            $this->head .= substr($bytes, 0, FileType::HEAD - strlen($this->head));
        }

        return strlen($bytes);
    }

    public function stream_eof(): bool
    {
        return true;
    }

    public function stream_flush(): bool
    {
        return true;
    }
}
