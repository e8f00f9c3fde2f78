<?php

declare(strict_types=1);

namespace Geschenk\App\Security;

use Geschenk\Core\Messenger\BackupKey;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/**
 * Keeps what a customer told to open their sealed backup, for as long as the run that needs it goes on: the shop's
 * database never holds it readable, and its copies open nothing without this installation's secret.
 */
final readonly class KeySafe
{
    private string $lock;

    public function __construct(#[Autowire('%kernel.secret%')] #[\SensitiveParameter] string $secret)
    {
        $this->lock = hash_hkdf('sha256', $secret, \SODIUM_CRYPTO_SECRETBOX_KEYBYTES, 'keys of sealed backups');
    }

    public function put(#[\SensitiveParameter] string $told): string
    {
        $nonce = random_bytes(\SODIUM_CRYPTO_SECRETBOX_NONCEBYTES);

        return base64_encode($nonce.sodium_crypto_secretbox($told, $nonce, $this->lock));
    }

    /** @return BackupKey|null null when nothing was kept, or with another secret */
    public function take(?string $kept): ?BackupKey
    {
        $bytes = base64_decode($kept ?? '', true);
        if (false === $bytes || strlen($bytes) <= \SODIUM_CRYPTO_SECRETBOX_NONCEBYTES) {
            return null;
        }
        $told = sodium_crypto_secretbox_open(
            substr($bytes, \SODIUM_CRYPTO_SECRETBOX_NONCEBYTES), substr($bytes, 0, \SODIUM_CRYPTO_SECRETBOX_NONCEBYTES),
            $this->lock,
        );

        return false === $told ? null : BackupKey::of($told);
    }
}
