<?php

declare(strict_types=1);

namespace Geschenk\Core\Seal;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;

/**
 * A sealed file: a head of a mark and a salt, then pieces of 65,536 bytes of content, the last one shorter, each with
 * its nonce before and its tag behind. Which piece it is and whether it is the last is bound in, so that none can be
 * left out, exchanged or cut off; the key is of that one file and salt (docs/formats/sealed.md). AES-256-GCM is
 * OpenSSL's: it does ten times what ChaCha20 does here, and a chat store is unsealed whenever a page is shown.
 */
final readonly class SealedFile
{
    public const PIECE = 65_536;
    /** Bytes of the head, and what each piece is longer. */
    public const HEAD = 40;
    public const ADDED = self::NONCE + self::TAG;
    private const MARK = "GSEALED\1";
    private const NONCE = 12;
    private const TAG = 16;
    private const CIPHER = 'aes-256-gcm';

    /** @param string $of what it is of; nothing else opens it */
    public function __construct(public string $path, private DataKey $key, public string $of)
    {
    }

    /**
     * Seals a stream to its end. It is under its name when all of it is written; that it is on the disk is waited for
     * by whoever counts on it.
     *
     * @param resource                 $content
     * @param callable(int): void|null $onBytes told the bytes of content as they are done
     *
     * @return int bytes of the content
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function seal(mixed $content, ?callable $onBytes = null): int
    {
        $salt = random_bytes(self::HEAD - strlen(self::MARK));
        $key = $this->key->ofFile($this->of, $salt);
        $stream = Disk::open($this->path, 'w');
        Disk::write($stream, self::MARK.$salt, $this->path);
        $bytes = 0;
        $piece = Disk::read($content, self::PIECE, $this->path);
        for ($n = 0;; ++$n) {
            $next = strlen($piece) < self::PIECE ? '' : Disk::read($content, self::PIECE, $this->path);
            $isLast = '' === $next;
            Disk::write($stream, self::closed($piece, $key, $n, $isLast), $this->path);
            $bytes += strlen($piece);
            null === $onBytes ?: $onBytes(strlen($piece));
            if ($isLast) {
                Disk::close($stream, $this->path);

                return $bytes;
            }
            $piece = $next;
        }
    }

    /**
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function sealText(string $text): void
    {
        $stream = fopen('php://memory', 'w+') ?: throw new \LogicException('There is always memory for a text.');
        fwrite($stream, $text);
        rewind($stream);
        $this->seal($stream);
        fclose($stream);
    }

    public function isThere(): bool
    {
        return is_file($this->path) && !is_link($this->path);
    }

    /** Bytes of content in it, as long as it is whole; null where there is none. */
    public function bytes(): ?int
    {
        clearstatcache(true, $this->path);
        $bytes = $this->isThere() ? @filesize($this->path) : false;

        return false === $bytes ? null : self::contentBytes($bytes);
    }

    /**
     * @return \Generator<int, string> pieces of the content; nothing is whole before the last has come
     *
     * @throws SealBroken
     * @throws DiskFailure
     */
    public function pieces(): \Generator
    {
        $reading = SealedReading::begin($this);
        try {
            for ($n = 0; $n < $reading->pieces; ++$n) {
                yield $reading->piece($n);
            }
        } finally {
            $reading->close();
        }
    }

    /**
     * @throws SealBroken
     * @throws DiskFailure
     */
    public function text(): string
    {
        return implode('', iterator_to_array($this->pieces(), false));
    }

    /**
     * Puts its content under a name, open; whoever reads it meets all of it or nothing.
     *
     * @throws SealBroken
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function unseal(string $target): void
    {
        $part = $target.'.'.bin2hex(random_bytes(6));
        $stream = Disk::open($part, 'w');
        try {
            foreach ($this->pieces() as $piece) {
                Disk::write($stream, $piece, $target);
            }
            Disk::close($stream, $target);
            if (!Disk::quietly(static fn (): bool => rename($part, $target))) {
                throw Disk::failure('rename', $target);
            }
        } catch (\Throwable $error) {
            @unlink($part);
            throw $error;
        }
    }

    /**
     * @return resource a stream to read its content from, which can be sought in; reading throws SealBroken
     *
     * @throws SealBroken
     * @throws DiskFailure
     */
    public function open(): mixed
    {
        return SealedStream::of(SealedReading::begin($this));
    }

    /** @internal */
    public function keyFor(string $head): string
    {
        if (self::HEAD !== strlen($head) || !str_starts_with($head, self::MARK)) {
            throw SealBroken::at($this->of);
        }

        return $this->key->ofFile($this->of, substr($head, strlen(self::MARK)));
    }

    /** @return int bytes of a sealed file with so many bytes of content */
    public static function bytesOf(int $content): int
    {
        return self::HEAD + $content + max(1, (int) ceil($content / self::PIECE)) * self::ADDED;
    }

    /** @internal */
    public static function contentBytes(int $sealed): int
    {
        $pieces = self::piecesIn($sealed);

        return max(0, $sealed - self::HEAD - $pieces * self::ADDED);
    }

    /** @internal */
    public static function piecesIn(int $sealed): int
    {
        return (int) ceil(max(0, $sealed - self::HEAD) / (self::PIECE + self::ADDED));
    }

    /**
     * @internal
     *
     * @return string|null null where it does not open
     */
    public static function opened(string $sealed, #[\SensitiveParameter] string $key, int $n, bool $isLast): ?string
    {
        $content = strlen($sealed) < self::ADDED ? false : openssl_decrypt(
            substr($sealed, self::NONCE, -self::TAG), self::CIPHER, $key, \OPENSSL_RAW_DATA,
            substr($sealed, 0, self::NONCE), substr($sealed, -self::TAG), self::bound($n, $isLast),
        );

        return false === $content ? null : $content;
    }

    private static function closed(string $piece, #[\SensitiveParameter] string $key, int $n, bool $isLast): string
    {
        // Drawn anew each time: what is gone on with behind a power cut never uses one twice for two contents.
        $nonce = random_bytes(self::NONCE);
        $tag = '';
        $closed = openssl_encrypt(
            $piece, self::CIPHER, $key, \OPENSSL_RAW_DATA, $nonce, $tag, self::bound($n, $isLast), self::TAG,
        );
        if (!is_string($closed) || !is_string($tag) || self::TAG !== strlen($tag)) {
            throw new \LogicException('OpenSSL has no AES-256-GCM.');
        }

        return $nonce.$closed.$tag;
    }

    private static function bound(int $n, bool $isLast): string
    {
        return pack('J', $n).($isLast ? "\1" : "\0");
    }
}
