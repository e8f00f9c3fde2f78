<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Locked;

use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Files\Content\FileType;
use Geschenk\Core\Files\Durable\Disk;

/** The content of files that lie locked on the disk. A piece is in memory at a time. */
final class LockedContent
{
    private const HEAD = \SODIUM_CRYPTO_SECRETSTREAM_XCHACHA20POLY1305_HEADERBYTES;
    private const ADDED = \SODIUM_CRYPTO_SECRETSTREAM_XCHACHA20POLY1305_ABYTES;
    private const LAST = \SODIUM_CRYPTO_SECRETSTREAM_XCHACHA20POLY1305_TAG_FINAL;
    /** Bytes that stay in memory; what is larger goes to a temporary file. */
    private const MEMORY = 2_000_000;

    /**
     * @param resource $locked
     *
     * @return \Generator<int, string> pieces of the content; nothing is whole before the last has come
     *
     * @throws NotUnlocked
     */
    public static function of(mixed $locked, ContentKey $key): \Generator
    {
        $head = self::next($locked, self::HEAD);
        if (strlen($head) < self::HEAD) {
            throw new NotUnlocked();
        }
        $state = sodium_crypto_secretstream_xchacha20poly1305_init_pull($head, $key->bytes);
        do {
            $piece = self::next($locked, Cipher::PIECE + self::ADDED);
            $opened = strlen($piece) < self::ADDED
                ? false
                : sodium_crypto_secretstream_xchacha20poly1305_pull($state, $piece);
            if (false === $opened) {
                throw new NotUnlocked();
            }
            /** @var array{string, int} $opened */
            yield $opened[0];
        } while (self::LAST !== $opened[1]);
        if ('' !== self::next($locked, 1)) {
            // There is more behind the last piece.
            throw new NotUnlocked();
        }
    }

    /**
     * @param resource $content
     *
     * @return \Generator<int, string> pieces of the locked file
     */
    public static function lock(mixed $content, ContentKey $key): \Generator
    {
        /** @var array{string, string} $begun */
        $begun = sodium_crypto_secretstream_xchacha20poly1305_init_push($key->bytes);
        [$state, $head] = $begun;
        yield $head;
        $piece = self::next($content, Cipher::PIECE);
        do {
            $after = strlen($piece) < Cipher::PIECE ? '' : self::next($content, Cipher::PIECE);
            $tag = '' === $after ? self::LAST : \SODIUM_CRYPTO_SECRETSTREAM_XCHACHA20POLY1305_TAG_MESSAGE;
            yield sodium_crypto_secretstream_xchacha20poly1305_push($state, $piece, '', $tag);
            $piece = $after;
        } while (self::LAST !== $tag);
    }

    /**
     * What there is to say of a locked file: of its content, not of its bytes on the disk.
     *
     * @param resource $locked
     *
     * @return array{presence: Presence, bytes: int, sha256: string|null}
     */
    public static function look(mixed $locked, string $mediaType, ContentKey $key): array
    {
        $hash = hash_init('sha256');
        $bytes = 0;
        $head = '';
        try {
            foreach (self::of($locked, $key) as $piece) {
                hash_update($hash, $piece);
                $bytes += strlen($piece);
                $head .= strlen($head) < FileType::HEAD ? substr($piece, 0, FileType::HEAD) : '';
            }
        } catch (NotUnlocked) {
            return ['presence' => Presence::Unreadable, 'bytes' => 0, 'sha256' => null];
        }
        if (0 === $bytes) {
            return ['presence' => Presence::Empty, 'bytes' => 0, 'sha256' => null];
        }

        return [
            'presence' => FileType::contradicts($mediaType, $head) ? Presence::WrongType : Presence::Present,
            'bytes' => $bytes, 'sha256' => hash_final($hash),
        ];
    }

    /**
     * @param resource $locked
     *
     * @return resource|null a stream of all of the content; null when it does not open
     */
    public static function open(mixed $locked, ContentKey $key): mixed
    {
        $content = fopen(sprintf('php://temp/maxmemory:%d', self::MEMORY), 'w+')
            ?: throw new \RuntimeException('There is no space for a temporary file.');
        try {
            foreach (self::of($locked, $key) as $piece) {
                Disk::write($content, $piece, 'php://temp');
            }
        } catch (NotUnlocked) {
            fclose($content);

            return null;
        }
        rewind($content);

        return $content;
    }

    /** @param resource $stream */
    private static function next(mixed $stream, int $bytes): string
    {
        $read = stream_get_contents($stream, $bytes);

        return false === $read ? throw new NotUnlocked() : $read;
    }
}
