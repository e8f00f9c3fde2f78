<?php

declare(strict_types=1);

namespace Geschenk\Core\Seal;

/** A short text under a key, bound to what it is of: XChaCha20-Poly1305 as libsodium has it. */
final class Seal
{
    public static function close(string $text, #[\SensitiveParameter] string $key, string $of): string
    {
        $nonce = random_bytes(\SODIUM_CRYPTO_AEAD_XCHACHA20POLY1305_IETF_NPUBBYTES);

        return $nonce.sodium_crypto_aead_xchacha20poly1305_ietf_encrypt($text, $of, $nonce, $key);
    }

    /** @throws SealBroken where it was changed, is of something else, or under another key */
    public static function open(string $sealed, #[\SensitiveParameter] string $key, string $of): string
    {
        $nonce = substr($sealed, 0, \SODIUM_CRYPTO_AEAD_XCHACHA20POLY1305_IETF_NPUBBYTES);
        $text = \SODIUM_CRYPTO_AEAD_XCHACHA20POLY1305_IETF_NPUBBYTES === strlen($nonce)
            ? sodium_crypto_aead_xchacha20poly1305_ietf_decrypt(substr($sealed, strlen($nonce)), $of, $nonce, $key)
            : false;

        return false === $text ? throw SealBroken::at($of) : $text;
    }
}
