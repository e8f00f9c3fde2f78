<?php

declare(strict_types=1);

namespace Geschenk\Core\Seal;

/** What guessing one password costs: Argon2id (RFC 9106) as libsodium has it. It stands beside what is under it. */
final readonly class PasswordCost
{
    private const SALT = \SODIUM_CRYPTO_PWHASH_SALTBYTES;

    /** @param int $memory bytes */
    public function __construct(
        public int $passes = \SODIUM_CRYPTO_PWHASH_OPSLIMIT_MODERATE,
        public int $memory = \SODIUM_CRYPTO_PWHASH_MEMLIMIT_MODERATE,
    ) {
    }

    public static function salt(): string
    {
        return random_bytes(self::SALT);
    }

    /**
     * @return string 32 bytes
     *
     * @throws \ValueError where salt or cost are none
     */
    public function key(#[\SensitiveParameter] string $password, string $salt): string
    {
        // A cost that somebody has written there must not take the computer down.
        if (self::SALT !== strlen($salt) || $this->passes < 1 || $this->passes > 20
            || $this->memory < 8_192 || $this->memory > 2_000_000_000) {
            throw new \ValueError('no cost of a password');
        }

        return sodium_crypto_pwhash(
            DataKey::BYTES, $password, $salt, $this->passes, $this->memory, \SODIUM_CRYPTO_PWHASH_ALG_ARGON2ID13,
        );
    }
}
