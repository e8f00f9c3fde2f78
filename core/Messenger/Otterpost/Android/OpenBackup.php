<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Android;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\UnusableInput;

/**
 * The local backup that Otterpost makes on Android while nobody turned encryption on: the database as a gzip file
 * (RFC 1952). docs/formats/otterpost-sealed.md
 */
final class OpenBackup
{
    public const FILE = 'pouch.gz';
    private const MAGIC = "\x1f\x8b\x08";
    private const PIECE = 65_536;
    /** Bytes that are unpacked at once: a thousand may come out of one. */
    private const INFLATED = 16_384;

    public static function recognises(string $path): bool
    {
        return is_file($path) && self::isHead((string) @file_get_contents($path, false, null, 0, strlen(self::MAGIC)));
    }

    public static function isHead(string $head): bool
    {
        return str_starts_with($head, self::MAGIC);
    }

    /** What is at the target already is only replaced by a whole file. */
    public static function pack(string $database, string $target): void
    {
        $from = Disk::open($database, 'r');
        $to = Disk::open($target.'.part', 'w');
        $deflate = deflate_init(\ZLIB_ENCODING_GZIP) ?: throw new \LogicException('zlib is missing.');
        while ('' !== ($piece = Disk::read($from, self::PIECE, $database))) {
            Disk::write($to, (string) deflate_add($deflate, $piece, \ZLIB_NO_FLUSH), $target);
        }
        Disk::write($to, (string) deflate_add($deflate, '', \ZLIB_FINISH), $target);
        fclose($from);
        Disk::finish($to, $target);
        Disk::move($target.'.part', $target);
    }

    /**
     * The target appears only when the last byte was found to be right.
     *
     * @param string $name what errors call the file
     *
     * @throws UnusableInput when it is cut short, or a byte of it was changed
     */
    public static function unpack(string $path, string $target, string $name): void
    {
        $from = Disk::open($path, 'r');
        $to = Disk::open($target.'.part', 'w');
        $inflate = inflate_init(\ZLIB_ENCODING_GZIP) ?: throw new \LogicException('zlib is missing.');
        $most = max(SealedBackup::MOST_UNPACKED, SealedBackup::MOST_RATIO * (int) filesize($path));
        $unpacked = $read = 0;
        try {
            while ('' !== ($piece = Disk::read($from, self::INFLATED, $path))) {
                $bytes = @inflate_add($inflate, $piece, \ZLIB_SYNC_FLUSH);
                $read += strlen($piece);
                // Bytes behind its end belong to nothing.
                if (false === $bytes || inflate_get_read_len($inflate) !== $read) {
                    throw UnusableInput::localBackupBroken($name);
                }
                if (($unpacked += strlen($bytes)) > $most) {
                    throw UnusableInput::sealedTooLarge($name, $most);
                }
                Disk::write($to, $bytes, $target);
            }
            if (\ZLIB_STREAM_END !== inflate_get_status($inflate)) {
                throw UnusableInput::localBackupBroken($name);
            }
            Disk::finish($to, $target);
            Disk::move($target.'.part', $target);
        } finally {
            fclose($from);
            @unlink($target.'.part');
        }
    }
}
