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
    /** @var non-empty-array<string, string> locks by their names, the one that is used first */
    private array $locks;

    /** @param string $before the secret that this installation had before, as long as something of it may be kept */
    public function __construct(
        #[Autowire('%kernel.secret%')] #[\SensitiveParameter]
        string $secret,
        #[Autowire('%env(APP_SECRET_BEFORE)%')] #[\SensitiveParameter]
        string $before = '',
    ) {
        $locks = [];
        foreach ('' === $before ? [$secret] : [$secret, $before] as $one) {
            $lock = hash_hkdf('sha256', $one, \SODIUM_CRYPTO_SECRETBOX_KEYBYTES, 'keys of sealed backups');
            // A name that tells nothing of the lock.
            $locks['k'.substr(hash('sha256', $lock), 0, 8)] = $lock;
        }
        $this->locks = $locks;
    }

    public function put(#[\SensitiveParameter] string $told): string
    {
        $nonce = random_bytes(\SODIUM_CRYPTO_SECRETBOX_NONCEBYTES);
        $name = array_key_first($this->locks);

        return $name.':'.base64_encode($nonce.sodium_crypto_secretbox($told, $nonce, $this->locks[$name]));
    }

    /** @return BackupKey|null null when nothing was kept, or with a secret that is gone */
    public function take(?string $kept): ?BackupKey
    {
        $told = $this->told($kept);

        return null === $told ? null : BackupKey::of($told);
    }

    /** @return string|null as it was told; null when nothing was kept, or with a secret that is gone */
    public function told(?string $kept): ?string
    {
        // A version before named no lock.
        $parts = explode(':', $kept ?? '', 2);
        [$name, $locked] = 2 === count($parts) ? $parts : [array_key_first($this->locks), $parts[0]];
        $lock = $this->locks[$name] ?? null;
        $bytes = base64_decode($locked, true);
        if (null === $lock || false === $bytes || strlen($bytes) <= \SODIUM_CRYPTO_SECRETBOX_NONCEBYTES) {
            return null;
        }
        $told = sodium_crypto_secretbox_open(
            substr($bytes, \SODIUM_CRYPTO_SECRETBOX_NONCEBYTES), substr($bytes, 0, \SODIUM_CRYPTO_SECRETBOX_NONCEBYTES),
            $lock,
        );

        return false === $told ? null : $told;
    }
}
