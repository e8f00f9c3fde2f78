<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Locked;

/** Ways in which a messenger locks a file under a key of its own. The values stand in chat stores. */
enum Cipher: string
{
    /**
     * XChaCha20-Poly1305 as a stream of pieces, libsodium's "secretstream": its head of 24 bytes, then pieces of 65,536
     * bytes of content, each 17 bytes longer, the last one shorter and marked as the last.
     * https://doc.libsodium.org/secret-key_cryptography/secretstream
     */
    case SecretStream = 'secretstream-xchacha20poly1305';

    /** @internal of LockedContent */
    public const PIECE = 65_536;

    /** Bytes of a key. */
    public function keyBytes(): int
    {
        return match ($this) {
            self::SecretStream => \SODIUM_CRYPTO_SECRETSTREAM_XCHACHA20POLY1305_KEYBYTES,
        };
    }

    /** Bytes of content in so many bytes of a locked file, as long as it is whole. */
    public function contentBytes(int $locked): int
    {
        $pieces = max(0, $locked - \SODIUM_CRYPTO_SECRETSTREAM_XCHACHA20POLY1305_HEADERBYTES);
        $added = \SODIUM_CRYPTO_SECRETSTREAM_XCHACHA20POLY1305_ABYTES;

        return max(0, $pieces - $added * (int) ceil($pieces / (self::PIECE + $added)));
    }
}
