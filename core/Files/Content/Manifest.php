<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Content;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;

/**
 * A list of files with their sizes and hashes: what was rehearsed, and so what may reach a phone. A line a file, hash,
 * bytes and path, the path percent-encoded; the last line is the hash of all before it.
 */
final class Manifest
{
    private const LINE = '/^([0-9a-f]{64}) (\d{1,18}) (\S+)\n$/D';
    private const LAST = '/^([0-9a-f]{64})\n$/D';

    private function __construct(
        private readonly string $path,
        /** of all it lists: two manifests with the same are the same */
        public readonly string $digest,
        public readonly int $files,
        public readonly int $bytes,
        public readonly ?object $behind,
    ) {
    }

    /**
     * Lists all files and puts the list on the disk.
     *
     * @param callable(int): void $onBytes told the bytes of each file as it is hashed
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public static function make(Contents $files, string $path, callable $onBytes): self
    {
        $stream = Disk::open($path.'.part', 'w');
        $hash = hash_init('sha256');
        foreach ($files->paths() as $file) {
            $bytes = $files->bytes($file) ?? throw DiskFailure::at('read', $file);
            $line = sprintf("%s %d %s\n", $files->sha256($file), $bytes, rawurlencode($file));
            hash_update($hash, $line);
            Disk::write($stream, $line, $path);
            $onBytes($bytes);
        }
        Disk::write($stream, hash_final($hash)."\n", $path);
        Disk::finish($stream, $path);
        Disk::move($path.'.part', $path);

        return self::read($path);
    }

    /**
     * @param object|null $behind what has to be there for as long as it is asked: what it was unpacked into
     *
     * @throws \UnexpectedValueException when it is not there, or is not as it was made
     */
    public static function read(string $path, ?object $behind = null): self
    {
        $stream = is_file($path) ? @fopen($path, 'r') : false;
        if (false === $stream) {
            throw new \UnexpectedValueException(sprintf('The list of files at %s is not there.', $path));
        }
        $hash = hash_init('sha256');
        [$files, $bytes, $digest] = [0, 0, null];
        while (false !== ($line = fgets($stream))) {
            if (null === $digest && 1 === preg_match(self::LINE, $line, $found)) {
                hash_update($hash, $line);
                ++$files;
                $bytes += (int) $found[2];
            } elseif (null === $digest && 1 === preg_match(self::LAST, $line, $found)) {
                $digest = $found[1];
            } else {
                throw self::broken($path);
            }
        }
        fclose($stream);
        if (null === $digest || !hash_equals(hash_final($hash), $digest)) {
            throw self::broken($path);
        }

        return new self($path, $digest, $files, $bytes, $behind);
    }

    /**
     * @return \Generator<int, array{path: string, bytes: int, sha256: string}> in the order of the paths
     *
     * @throws \UnexpectedValueException when it lists something else than when it was read: it changed, or came short
     */
    public function entries(): \Generator
    {
        $stream = Disk::open($this->path, 'r');
        $hash = hash_init('sha256');
        $files = 0;
        while (false !== ($line = fgets($stream))) {
            if (1 === preg_match(self::LINE, $line, $found)) {
                hash_update($hash, $line);
                ++$files;
                yield ['path' => rawurldecode($found[3]), 'bytes' => (int) $found[2], 'sha256' => $found[1]];
            }
        }
        fclose($stream);
        if ($files !== $this->files || !hash_equals($this->digest, hash_final($hash))) {
            throw self::broken($this->path);
        }
    }

    private static function broken(string $path): \UnexpectedValueException
    {
        return new \UnexpectedValueException(sprintf('The list of files at %s is not as it was made.', $path));
    }
}
