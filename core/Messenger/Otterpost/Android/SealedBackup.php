<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Android;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\UnusableInput;

/**
 * The local backup that Otterpost makes on Android when its owner turned encryption on: the database, compressed and
 * sealed in pieces, so that neither side ever holds more than one of them. docs/formats/otterpost-sealed.md
 */
final class SealedBackup
{
    public const FILE = 'pouch.sealed';
    public const MAGIC = 'OTTRSEAL';
    public const VERSION = 1;
    public const HEADER = 110;
    public const TAG = 16;
    public const PIECE = 1_048_576;
    public const BY_DIGITS = 1;
    public const BY_PASSWORD = 2;
    /** Argon2id: passes and bytes of memory; RFC 9106. */
    private const PASSES = 3;
    private const MEMORY = 67_108_864;
    /** A foreign file must not make us compute for hours. */
    private const MOST_PASSES = 10;
    private const MOST_MEMORY = 268_435_456;
    private const CIPHER = 'aes-256-gcm';
    private const MOST_PIECE = 8_388_608;
    private const INFLATED = 16_384;
    /** What a sealed backup may unpack to: so many bytes, or so many times its size where that is more. */
    public const MOST_UNPACKED = 268_435_456;
    public const MOST_RATIO = 40;

    public static function recognises(string $path): bool
    {
        return is_file($path) && self::MAGIC === file_get_contents($path, false, null, 0, strlen(self::MAGIC));
    }

    /** @param string $head at least its first ten bytes */
    public static function lockOf(string $head): ?BackupLock
    {
        return str_starts_with($head, self::MAGIC)
            ? match (ord($head[9] ?? "\0")) {
                self::BY_DIGITS => BackupLock::Digits,
                self::BY_PASSWORD => BackupLock::Password,
                default => null,
            }
        : null;
    }

    /**
     * Seals a database; what is at the target already is only replaced by a whole file.
     *
     * @param bool|null $isPassword whether what was told is meant as a password; null takes 64 digits for a key
     */
    public static function seal(string $database, string $target, BackupKey $key, ?bool $isPassword = null): void
    {
        $scratch = ScratchFolder::make();
        self::compress($database, $scratch->path.'/packed');
        $length = (int) filesize($scratch->path.'/packed');
        $salt = random_bytes(16);
        $prefix = random_bytes(8);
        $isPassword ??= null === $key->digits();
        $secret = self::derive($key, $isPassword, $salt, self::PASSES, self::MEMORY);
        $header = self::MAGIC.pack(
            'CCNN', self::VERSION, $isPassword ? self::BY_PASSWORD : self::BY_DIGITS, self::PASSES, self::MEMORY,
        ).$salt.$prefix.pack('NJ', self::PIECE, $length).self::check($secret);
        $header .= hash('sha256', $header, true);
        $from = fopen($scratch->path.'/packed', 'r');
        $to = fopen($target.'.part', 'w');
        if (false === $from || false === $to) {
            throw new \RuntimeException(sprintf('%s can\'t be written.', $target));
        }
        self::put($to, $header, $target);
        for ($number = 0, $done = 0; $done < $length || 0 === $number; ++$number) {
            $piece = (string) fread($from, max(1, min(self::PIECE, $length - $done)));
            $done += strlen($piece);
            $tag = '';
            $sealed = openssl_encrypt(
                $piece, self::CIPHER, $secret, \OPENSSL_RAW_DATA, $prefix.pack('N', $number), $tag,
                self::about($header, $number, $done >= $length), self::TAG,
            );
            self::put($to, $sealed.$tag, $target);
        }
        fclose($from);
        fclose($to);
        Disk::move($target.'.part', $target);
    }

    /**
     * Opens a sealed backup into a database. The target appears only when the last byte was found to be right.
     *
     * @param string|null $name what errors call the file; its path where nothing else is said
     *
     * @throws UnusableInput when the key is another one, the file is cut short, or a byte of it was changed
     */
    public static function open(string $path, BackupKey $key, string $target, ?string $name = null): void
    {
        $name ??= $path;
        $file = @fopen($path, 'r');
        $header = false === $file ? '' : (string) fread($file, self::HEADER);
        if (false === $file || !str_starts_with($header, self::MAGIC)) {
            throw UnusableInput::notMessengerData($name);
        }
        clearstatcache(true, $path);
        $size = (int) filesize($path);
        if (self::HEADER !== strlen($header)) {
            throw UnusableInput::sealedCut($name, $size, self::HEADER);
        }
        // The head has a plain digest, so that a changed byte in it is not taken for a wrong key.
        if (!hash_equals(hash('sha256', substr($header, 0, -32), true), substr($header, -32))) {
            throw UnusableInput::sealedChanged($name);
        }
        /** @var array{version: int, sort: int, passes: int, memory: int} $n */
        $n = unpack('Cversion/Csort/Npasses/Nmemory', $header, 8);
        /** @var array{piece: int, length: int} $sizes */
        $sizes = unpack('Npiece/Jlength', $header, 42);
        if (self::VERSION !== $n['version']) {
            throw UnusableInput::unknownGeneration($name, '@locked_backup', $n['version'], (string) self::VERSION);
        }
        if ($sizes['piece'] < 1 || $sizes['piece'] > self::MOST_PIECE || $sizes['length'] < 0) {
            throw UnusableInput::sealedChanged($name);
        }
        $promised = self::HEADER + $sizes['length'] + self::TAG * max(
            1, (int) ceil($sizes['length'] / $sizes['piece']),
        );
        if ($size < $promised) {
            throw UnusableInput::sealedCut($name, $size, $promised);
        }
        if ($size > $promised) {
            throw UnusableInput::sealedChanged($name);
        }
        if (self::BY_DIGITS !== $n['sort'] && self::BY_PASSWORD !== $n['sort']) {
            throw UnusableInput::sealedUnknownSort($name);
        }
        // The file says which sort it wants: a password may look like a key.
        $isPassword = self::BY_PASSWORD === $n['sort'];
        if (!$isPassword && null === $key->digits()) {
            throw UnusableInput::sealedOtherSort($name, false);
        }
        try {
            $secret = self::derive($key, $isPassword, substr($header, 18, 16), $n['passes'], $n['memory']);
        } catch (\UnexpectedValueException) {
            throw UnusableInput::sealedChanged($name);
        }
        if (!hash_equals(self::check($secret), substr($header, 54, 24))) {
            throw null !== $key->digits() && $isPassword
                ? UnusableInput::sealedOtherSort($name, true)
                : UnusableInput::sealedWrongKey($name);
        }
        self::unpack(new SealedBody($file, $name, $header, $secret, $sizes['piece'], $sizes['length']), $target);
    }

    /**
     * @param string $salt 16 bytes
     *
     * @return string 32 bytes
     *
     * @throws \UnexpectedValueException when the numbers are out of all proportion
     */
    private static function derive(BackupKey $key, bool $isPassword, string $salt, int $passes, int $memory): string
    {
        if (!$isPassword) {
            return hash_hkdf('sha256', (string) $key->digits(), 32, 'Otterpost sealed backup', $salt);
        }
        if ($passes < 1 || $passes > self::MOST_PASSES || $memory < 8192 || $memory > self::MOST_MEMORY) {
            throw new \UnexpectedValueException('The numbers for the password are out of proportion.');
        }

        return sodium_crypto_pwhash(32, $key->told, $salt, $passes, $memory, \SODIUM_CRYPTO_PWHASH_ALG_ARGON2ID13);
    }

    private static function unpack(SealedBody $body, string $target): void
    {
        $to = Disk::open($target.'.part', 'w');
        $inflate = inflate_init(\ZLIB_ENCODING_GZIP) ?: throw new \LogicException('zlib is missing.');
        $most = max(self::MOST_UNPACKED, self::MOST_RATIO * $body->length);
        try {
            $unpacked = 0;
            for ($number = 0, $done = 0; $done < $body->length || 0 === $number; ++$number) {
                $here = min($body->piece, $body->length - $done);
                $done += $here;
                $sealed = Disk::read($body->file, $here + self::TAG, $body->name);
                $plain = openssl_decrypt(
                    substr($sealed, 0, $here), self::CIPHER, $body->secret, \OPENSSL_RAW_DATA,
                    substr($body->header, 34, 8).pack('N', $number), substr($sealed, $here),
                    self::about($body->header, $number, $done >= $body->length),
                );
                if (false === $plain) {
                    throw UnusableInput::sealedChanged($body->name);
                }
                // In small parts: a thousand bytes may come out of one.
                foreach ('' === $plain ? [''] : str_split($plain, self::INFLATED) as $part) {
                    $bytes = @inflate_add($inflate, $part, \ZLIB_SYNC_FLUSH);
                    if (false === $bytes) {
                        throw UnusableInput::sealedChanged($body->name);
                    }
                    if (($unpacked += strlen($bytes)) > $most) {
                        throw UnusableInput::sealedTooLarge($body->name, $most);
                    }
                    Disk::write($to, $bytes, $target);
                }
            }
            if (\ZLIB_STREAM_END !== inflate_get_status($inflate)) {
                throw UnusableInput::sealedChanged($body->name);
            }
            Disk::finish($to, $target);
            Disk::move($target.'.part', $target);
        } finally {
            fclose($body->file);
            @unlink($target.'.part');
        }
    }

    private static function compress(string $from, string $to): void
    {
        $source = fopen($from, 'r');
        $target = fopen($to, 'w');
        $deflate = deflate_init(\ZLIB_ENCODING_GZIP);
        if (false === $source || false === $target || false === $deflate) {
            throw new \RuntimeException(sprintf('%s can\'t be packed.', $from));
        }
        while (!feof($source)) {
            fwrite($target, (string) deflate_add($deflate, (string) fread($source, self::PIECE), \ZLIB_NO_FLUSH));
        }
        fwrite($target, (string) deflate_add($deflate, '', \ZLIB_FINISH));
        fclose($source);
        fclose($target);
    }

    /** @param resource $to */
    private static function put(mixed $to, string $bytes, string $target): void
    {
        if (strlen($bytes) !== fwrite($to, $bytes)) {
            throw new \RuntimeException(sprintf('%s could not be written: is there space left?', $target));
        }
    }

    /** Tells a wrong key from a changed byte: 24 bytes that follow from the key and say nothing about it. */
    private static function check(#[\SensitiveParameter] string $secret): string
    {
        return substr(hash_hmac('sha256', 'key check', $secret, true), 0, 24);
    }

    /**
     * Bound to every piece: the head, its number and whether it is the last, so that none can be moved or left away.
     */
    private static function about(string $header, int $number, bool $isLast): string
    {
        return $header.pack('NC', $number, $isLast ? 1 : 0);
    }
}
