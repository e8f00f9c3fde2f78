<?php

declare(strict_types=1);

namespace Geschenk\Core\Sqlite;

/** Marks bytes that are to be stored as BLOB, since PHP has one type for both. */
final readonly class Blob
{
    public function __construct(public string $bytes)
    {
    }

    public static function orNull(?string $bytes): ?self
    {
        return null === $bytes ? null : new self($bytes);
    }
}
