<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Locked;

/** What unlocks the file of one attachment. */
final readonly class ContentKey
{
    /** @throws \ValueError when it is no key of that cipher */
    public function __construct(public Cipher $cipher, #[\SensitiveParameter] public string $bytes)
    {
        if (strlen($bytes) !== $cipher->keyBytes()) {
            throw new \ValueError(sprintf('A key of %d bytes is none of %s.', strlen($bytes), $cipher->value));
        }
    }

    public static function random(Cipher $cipher): self
    {
        return new self($cipher, random_bytes(max(1, $cipher->keyBytes())));
    }
}
