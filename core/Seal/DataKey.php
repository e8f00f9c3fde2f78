<?php

declare(strict_types=1);

namespace Geschenk\Core\Seal;

/**
 * The key of one thing that is kept, a backup for instance. Nothing is sealed with it itself: each use has a key of its
 * own that is derived from it (HKDF, RFC 5869), so that no use can be taken for another.
 */
final readonly class DataKey
{
    public const BYTES = 32;

    /** @param string $bytes BYTES of them */
    public function __construct(#[\SensitiveParameter] private string $bytes)
    {
        if (self::BYTES !== strlen($bytes)) {
            throw new \ValueError('A data key has 32 bytes.');
        }
    }

    public static function random(): self
    {
        return new self(random_bytes(self::BYTES));
    }

    /** What is called so lies under this name: it tells nothing to whoever has no key. */
    public function nameOf(string $path): string
    {
        return substr(hash_hmac('sha256', $path, $this->derived('names')), 0, 48);
    }

    /**
     * @param string $path what the file is of
     * @param string $salt that its head has, drawn when it was sealed
     */
    public function ofFile(string $path, string $salt): string
    {
        return $this->derived('file '.$path, $salt);
    }

    public function ofText(): string
    {
        return $this->derived('texts');
    }

    /** To be sealed under another key, and for nothing else. */
    public function bytes(): string
    {
        return $this->bytes;
    }

    private function derived(string $use, string $salt = ''): string
    {
        return hash_hkdf('sha256', $this->bytes, self::BYTES, 'geschenk '.$use, $salt);
    }
}
