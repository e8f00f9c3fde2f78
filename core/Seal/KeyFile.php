<?php

declare(strict_types=1);

namespace Geschenk\Core\Seal;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;

/**
 * The shop's key in a file: one on a stick that is taken out at night, a credential that systemd hands to a service, or
 * one in memory that stands for a passphrase which was told at the start.
 */
final readonly class KeyFile implements KeySource
{
    /** Bytes that nobody guesses. */
    public const LEAST = 32;
    private const MOST = 65_536;

    /** @param string $path "" where none was named */
    public function __construct(private string $path)
    {
    }

    public function told(): string
    {
        if ('' === $this->path) {
            throw KeyFailure::notTold();
        }
        try {
            $stream = Disk::open($this->path, 'r');
            $told = Disk::read($stream, self::MOST, $this->path);
            fclose($stream);
        } catch (DiskFailure) {
            throw KeyFailure::noFile($this->path);
        }

        return strlen($told) < self::LEAST ? throw KeyFailure::tooShort($this->path, self::LEAST) : $told;
    }
}
