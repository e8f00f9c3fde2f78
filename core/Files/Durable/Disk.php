<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Durable;

/**
 * The one way to this computer's disk for what has to outlast a power cut: every write, sync and rename is checked.
 * After sync() returned, the bytes are there; a new name is there once its folder is synced too.
 */
final class Disk
{
    private const PIECE = 262_144;
    /** Bytes of a file that is hashed at once, in memory. */
    private const AT_ONCE = 8_000_000;
    /** A write that a signal interrupts writes nothing and is repeated. */
    private const ATTEMPTS = 1_000;

    private static ?string $warning = null;

    /**
     * Calls what warns instead of throwing, and keeps the warning to itself.
     *
     * @template T
     *
     * @param callable(): T $work
     *
     * @return T
     */
    public static function quietly(callable $work): mixed
    {
        self::$warning = null;
        set_error_handler(static function (int $level, string $message): bool {
            self::$warning = $message;

            return true;
        });
        try {
            return $work();
        } finally {
            restore_error_handler();
        }
    }

    /** What went wrong in quietly(), as an exception. */
    public static function failure(string $act, string $path): DiskFull|DiskFailure
    {
        return DiskFull::isToldBy(self::$warning ?? '')
            ? DiskFull::at($path)
            : DiskFailure::at($act, $path, self::$warning);
    }

    /**
     * @param resource $stream
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public static function write(mixed $stream, string $bytes, string $path): void
    {
        $length = strlen($bytes);
        for ($done = 0, $attempt = 0; $done < $length;) {
            $written = self::quietly(static fn () => fwrite($stream, 0 === $done ? $bytes : substr($bytes, $done)));
            if (false !== $written && $written > 0) {
                $done += $written;
                $attempt = 0;
            } elseif (++$attempt > self::ATTEMPTS || null !== self::$warning) {
                throw self::failure('write', $path);
            }
        }
    }

    /**
     * The next bytes of a stream; fewer than asked for only at its end.
     *
     * @param resource $stream
     *
     * @throws DiskFailure when the end was not reached and nothing comes
     */
    public static function read(mixed $stream, int $length, string $path): string
    {
        $bytes = '';
        for ($attempt = 0; strlen($bytes) < $length && !feof($stream);) {
            $piece = self::quietly(static fn () => fread($stream, max(1, $length - strlen($bytes))));
            if (false === $piece || null !== self::$warning
                || ('' === $piece && !feof($stream) && ++$attempt > self::ATTEMPTS)) {
                throw self::failure('read', $path);
            }
            $bytes .= $piece;
        }

        return $bytes;
    }

    /**
     * Copies what is left of a stream.
     *
     * @param resource $source
     * @param resource $target
     *
     * @return int bytes
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public static function copy(mixed $source, mixed $target, string $path): int
    {
        $bytes = 0;
        while ('' !== ($piece = self::read($source, self::PIECE, $path))) {
            self::write($target, $piece, $path);
            $bytes += strlen($piece);
        }

        return $bytes;
    }

    /**
     * @return resource
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public static function open(string $path, string $mode): mixed
    {
        $stream = self::quietly(static fn () => fopen($path, $mode));

        if (false === $stream) {
            throw self::failure(str_starts_with($mode, 'r') ? 'open' : 'write', $path);
        }
        // PHP's own pieces are of 8 kB.
        stream_set_chunk_size($stream, self::PIECE);

        return $stream;
    }

    /**
     * Waits until what was written is on the disk, and closes the stream.
     *
     * @param resource $stream
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public static function finish(mixed $stream, string $path): void
    {
        if (self::isSynced($stream)) {
            return;
        }
        $failure = self::failure('write', $path);
        // PHP does not tell why a sync failed. Some disks say only then that they are full.
        $folder = is_dir($path) ? $path : dirname($path);
        throw $failure instanceof DiskFull || self::hasRoom($folder) ? $failure : DiskFull::at($path);
    }

    /**
     * Waits until a file's bytes, or a folder's names, are on the disk.
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public static function sync(string $path): void
    {
        self::finish(self::open($path, 'r'), $path);
    }

    /**
     * Closes what was written; that it is on the disk is waited for later, by whoever counts on it.
     *
     * @param resource $stream
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public static function close(mixed $stream, string $path): void
    {
        if (!self::quietly(static fn (): bool => fflush($stream) && fclose($stream))) {
            throw self::failure('write', $path);
        }
    }

    /**
     * Waits until all that was written and named in a folder and below it is on the disk: one wait for many files, by
     * syncfs(2), where each would take as long. Where the program is not there, each is waited for.
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public static function syncTogether(string $folder): void
    {
        $pipes = [];
        $nothing = ['file', '/dev/null', 'r'];
        $program = self::quietly(static function () use ($folder, $nothing, &$pipes): mixed {
            return proc_open(
                ['sync', '-f', $folder], [$nothing, ['file', '/dev/null', 'a'], ['file', '/dev/null', 'a']], $pipes,
            );
        });
        if (!is_resource($program) || 0 !== proc_close($program)) {
            self::syncAll($folder);
        }
    }

    /** Waits until a folder with all that is in it is on the disk. */
    public static function syncAll(string $folder): void
    {
        foreach (scandir($folder) ?: [] as $name) {
            $path = $folder.'/'.$name;
            if ('.' === $name || '..' === $name || is_link($path)) {
                continue;
            }
            is_dir($path) ? self::syncAll($path) : self::sync($path);
        }
        self::sync($folder);
    }

    /**
     * Waits until the names in a folder and below it are on the disk; the files' own bytes are somebody else's affair.
     */
    public static function syncNames(string $folder): void
    {
        foreach (scandir($folder) ?: [] as $name) {
            if ('.' !== $name && '..' !== $name && !is_link($folder.'/'.$name) && is_dir($folder.'/'.$name)) {
                self::syncNames($folder.'/'.$name);
            }
        }
        self::sync($folder);
    }

    /**
     * Puts bytes under a name, wholly or not at all, also when the power goes.
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public static function put(string $path, string $bytes): void
    {
        $part = $path.'.part';
        $stream = self::open($part, 'w');
        self::write($stream, $bytes, $path);
        self::finish($stream, $path);
        self::move($part, $path);
    }

    /**
     * Renames what is on the disk already; the new name is there when this returns.
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public static function move(string $from, string $to): void
    {
        if (!self::quietly(static fn (): bool => rename($from, $to))) {
            throw self::failure('rename', $to);
        }
        self::sync(dirname($to));
        if (dirname($from) !== dirname($to)) {
            self::sync(dirname($from));
        }
    }

    /**
     * Whether a little can still be written in a folder, or room is not what it lacks; quotas are asked too, which free
     * space says nothing of.
     */
    public static function hasRoom(string $folder): bool
    {
        $probe = $folder.'/room-'.bin2hex(random_bytes(6));
        try {
            $stream = self::open($probe, 'w');
            self::write($stream, str_repeat("\0", self::PIECE), $probe);
            if (self::isSynced($stream)) {
                return true;
            }
            $why = self::$warning ?? self::whySyncFails($probe);

            // Where it no longer fails there was no room a moment ago, and whoever waits for it goes on soon.
            return '' !== $why && !DiskFull::isToldBy($why);
        } catch (DiskFull) {
            return false;
        } catch (DiskFailure) {
            // A disk that goes bad is often made one that can be read alone: what failed first is to be told.
            return true;
        } finally {
            self::quietly(static fn (): bool => unlink($probe));
        }
    }

    /** @param resource $stream that is closed where it is */
    private static function isSynced(mixed $stream): bool
    {
        return self::quietly(static fn (): bool => fflush($stream) && fsync($stream) && fclose($stream));
    }

    /** What the system's own program says of it; nothing where it does not fail. */
    private static function whySyncFails(string $path): string
    {
        $pipes = [];
        $null = ['file', '/dev/null', 'r+'];
        $program = self::quietly(static function () use ($path, $null, &$pipes): mixed {
            return proc_open(['env', 'LC_ALL=C', 'sync', $path], [$null, $null, ['pipe', 'w']], $pipes);
        });
        if (!is_resource($program) || !isset($pipes[2])) {
            return '';
        }
        $said = trim(self::said($pipes[2]));
        fclose($pipes[2]);
        proc_close($program);

        return $said;
    }

    /**
     * SHA-256 of a file that is read to its end.
     *
     * @throws DiskFailure
     */
    public static function sha256(string $path): string
    {
        $stream = self::open($path, 'r');
        $bytes = fstat($stream)['size'] ?? 0;
        // OpenSSL takes a third of the time, and has no way to go on with a hash: large files are its program's.
        if ($bytes > self::AT_ONCE && null !== ($hash = self::sha256ByProgram($stream))) {
            fclose($stream);

            return $hash;
        }
        rewind($stream);
        $gathered = '';
        $hash = null;
        while ('' !== ($piece = self::read($stream, self::PIECE, $path))) {
            if (null === $hash && strlen($gathered) + strlen($piece) <= self::AT_ONCE) {
                $gathered .= $piece;
                continue;
            }
            if (null === $hash) {
                $hash = hash_init('sha256');
                hash_update($hash, $gathered);
            }
            hash_update($hash, $piece);
        }
        fclose($stream);

        return null === $hash ? (string) openssl_digest($gathered, 'sha256') : hash_final($hash);
    }

    /**
     * SHA-256 of what is left of a stream.
     *
     * @param resource $stream
     *
     * @throws DiskFailure
     */
    public static function sha256Of(mixed $stream, string $path): string
    {
        $gathered = '';
        while (strlen($gathered) <= self::AT_ONCE && '' !== ($piece = self::read($stream, self::PIECE, $path))) {
            $gathered .= $piece;
        }
        if (strlen($gathered) <= self::AT_ONCE) {
            return (string) openssl_digest($gathered, 'sha256');
        }
        // As in sha256(): it takes a third of the time.
        $pipes = [];
        $program = self::quietly(static function () use (&$pipes): mixed {
            return proc_open(
                ['openssl', 'dgst', '-sha256', '-r'],
                [['pipe', 'r'], ['pipe', 'w'], ['file', '/dev/null', 'a']], $pipes,
            );
        });
        if (!is_resource($program) || !isset($pipes[0], $pipes[1])) {
            throw self::failure('read', $path);
        }
        for ($piece = $gathered; '' !== $piece; $piece = self::read($stream, self::PIECE, $path)) {
            self::write($pipes[0], $piece, $path);
        }
        fclose($pipes[0]);
        $hash = substr(self::said($pipes[1]), 0, 64);
        fclose($pipes[1]);
        $isWell = 0 === proc_close($program) && 1 === preg_match('/^[0-9a-f]{64}$/D', $hash);

        return $isWell ? $hash : throw DiskFailure::at('read', $path);
    }

    /**
     * All that a program says. A signal, like the alarm by which a worker says that it lives, ends a call early and no
     * more.
     *
     * @param resource $pipe
     */
    public static function said(mixed $pipe): string
    {
        $said = '';
        while (!feof($pipe)) {
            $said .= (string) @fread($pipe, 8_192);
        }

        return $said;
    }

    /**
     * @param resource $stream
     *
     * @return string|null null where the program is not there, or could not read to the end
     */
    private static function sha256ByProgram(mixed $stream): ?string
    {
        $pipes = [];
        $program = self::quietly(static function () use ($stream, &$pipes): mixed {
            return proc_open(
                ['openssl', 'dgst', '-sha256', '-r'], [$stream, ['pipe', 'w'], ['file', '/dev/null', 'a']], $pipes,
            );
        });
        if (!is_resource($program) || !isset($pipes[1])) {
            return null;
        }
        $said = self::said($pipes[1]);
        fclose($pipes[1]);
        $hash = substr($said, 0, 64);

        return 0 === proc_close($program) && 1 === preg_match('/^[0-9a-f]{64}$/D', $hash) ? $hash : null;
    }

    /** @throws DiskFailure when the file can't be read whole */
    public static function contents(string $path): string
    {
        $stream = self::open($path, 'r');
        $bytes = '';
        while ('' !== ($piece = self::read($stream, self::PIECE, $path))) {
            $bytes .= $piece;
        }
        fclose($stream);

        return $bytes;
    }
}
