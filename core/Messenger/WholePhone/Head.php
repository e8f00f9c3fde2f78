<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\WholePhone;

use Geschenk\Core\Files\Locked\Cipher;
use Geschenk\Core\Files\Locked\ContentKey;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\UnusableInput;

/**
 * What stands in front of a backup that a computer made of a whole phone: which index belongs to it, and what opens it.
 * docs/formats/phone-backup.md
 *
 * @phpstan-type Lock array{passes: int, memory: int, salt: string, nonce: string, key: string}
 */
final readonly class Head
{
    public const FILE = 'phone-backup.json';
    public const OPEN_INDEX = 'index.sqlite';
    public const LOCKED_INDEX = 'index.locked';
    /** The folder that the content of all files lies in. */
    public const CONTENT = 'content';
    public const VERSION = 1;
    /** With what the file begins. */
    public const BEGINS = '{"phone_backup":';
    public const PASSES = 3;
    public const MEMORY = 67_108_864;
    private const LONGEST = 65_536;
    /** A foreign file must not make us compute for hours. */
    private const MOST_PASSES = 10;
    private const MOST_MEMORY = 268_435_456;
    private const ID = '/^[0-9a-f]{32}$/D';
    private const SHA256 = '/^[0-9a-f]{64}$/D';
    /** Of what lies in hexadecimal digits in a lock. */
    private const BYTES = ['salt' => 16, 'nonce' => 24, 'key' => 48];

    /**
     * @param string    $id     of 32 hexadecimal digits; its index has it too
     * @param string    $sha256 of the index as it lies there
     * @param Lock|null $lock   as bytes; null where it lies open
     */
    private function __construct(public string $id, public string $sha256, private ?array $lock)
    {
    }

    public static function recognises(string $folder): bool
    {
        $file = $folder.'/'.self::FILE;

        return is_dir($folder) && is_file($file) && !is_link($file)
            && self::BEGINS === @file_get_contents($file, false, null, 0, strlen(self::BEGINS));
    }

    /** @return BackupLock|null null where nobody can tell */
    public static function lockOf(string $folder): ?BackupLock
    {
        try {
            return self::of($folder, '')->isLocked() ? BackupLock::Password : BackupLock::Open;
        } catch (UnusableInput) {
            return null;
        }
    }

    /**
     * @param string $name what errors call the folder
     *
     * @throws UnusableInput when it can't be read, or is of another version
     */
    public static function of(string $folder, string $name): self
    {
        if (!self::recognises($folder)) {
            throw UnusableInput::notMessengerData($name);
        }
        $text = @file_get_contents($folder.'/'.self::FILE, false, null, 0, self::LONGEST + 1);
        if (false === $text) {
            throw UnusableInput::unreadable($name);
        }
        $told = strlen($text) > self::LONGEST ? null : json_decode($text, true, 4);
        $version = is_array($told) ? $told['phone_backup'] ?? null : null;
        if (is_int($version) && self::VERSION !== $version) {
            throw UnusableInput::unknownGeneration($name, '@phone_backup', $version, (string) self::VERSION);
        }
        $id = is_array($told) ? $told['id'] ?? null : null;
        $sha256 = is_array($told) ? $told['index_sha256'] ?? null : null;
        $lock = is_array($told) ? $told['lock'] ?? null : null;
        if (!is_int($version) || !is_string($id) || 1 !== preg_match(self::ID, $id)
            || !is_string($sha256) || 1 !== preg_match(self::SHA256, $sha256)) {
            throw UnusableInput::phoneBackupBroken($name, 'changed', self::FILE);
        }

        return new self($id, $sha256, null === $lock ? null : self::lock(is_array($lock) ? $lock : [], $name));
    }

    /**
     * @param array<array-key, mixed> $told
     *
     * @return Lock
     */
    private static function lock(array $told, string $name): array
    {
        $n = static fn (string $what): int => is_int($told[$what] ?? null) ? $told[$what] : 0;
        $bytes = [];
        foreach (self::BYTES as $what => $length) {
            $hex = is_string($told[$what] ?? null) ? $told[$what] : '';
            if (2 * $length !== strlen($hex) || !ctype_xdigit($hex)) {
                throw UnusableInput::phoneBackupBroken($name, 'changed', self::FILE);
            }
            $bytes[$what] = (string) hex2bin($hex);
        }
        $lock = ['passes' => $n('passes'), 'memory' => $n('memory'), ...$bytes];
        // Its own sum tells a changed byte in it from another password.
        if ($lock['passes'] < 1 || $lock['passes'] > self::MOST_PASSES || $lock['memory'] < 8_192
            || $lock['memory'] > self::MOST_MEMORY || self::sum($lock) !== ($told['sum'] ?? null)) {
            throw UnusableInput::phoneBackupBroken($name, 'changed', self::FILE);
        }

        return $lock;
    }

    public function isLocked(): bool
    {
        return null !== $this->lock;
    }

    public function index(): string
    {
        return null === $this->lock ? self::OPEN_INDEX : self::LOCKED_INDEX;
    }

    /**
     * @param string $name what errors call the folder
     *
     * @return ContentKey|null of the index; null where it lies open
     *
     * @throws UnusableInput when nothing was told, or that does not open it
     */
    public function key(?BackupKey $told, string $name): ?ContentKey
    {
        if (null === $this->lock) {
            return null;
        }
        if (null === $told) {
            throw UnusableInput::sealedNeedsKey($name);
        }
        // Nobody locks with nothing.
        $key = '' === $told->told ? false : sodium_crypto_aead_xchacha20poly1305_ietf_decrypt(
            $this->lock['key'], $this->id, $this->lock['nonce'], self::secret($told, $this->lock),
        );

        return false === $key
            ? throw UnusableInput::sealedWrongKey($name)
            : new ContentKey(Cipher::SecretStream, $key);
    }

    /**
     * For whoever makes one.
     *
     * @return array<string, int|string> of a lock, as it stands in the head
     */
    public static function newLock(string $id, BackupKey $password, ContentKey $key): array
    {
        $lock = [
            'passes' => self::PASSES, 'memory' => self::MEMORY, 'salt' => random_bytes(16),
            'nonce' => random_bytes(24), 'key' => '',
        ];
        $lock['key'] = sodium_crypto_aead_xchacha20poly1305_ietf_encrypt(
            $key->bytes, $id, $lock['nonce'], self::secret($password, $lock),
        );

        return [
            'passes' => $lock['passes'], 'memory' => $lock['memory'], 'salt' => bin2hex($lock['salt']),
            'nonce' => bin2hex($lock['nonce']), 'key' => bin2hex($lock['key']), 'sum' => self::sum($lock),
        ];
    }

    /** @param Lock $lock */
    private static function secret(#[\SensitiveParameter] BackupKey $told, array $lock): string
    {
        return sodium_crypto_pwhash(
            32, $told->told, $lock['salt'], $lock['passes'], $lock['memory'],
            \SODIUM_CRYPTO_PWHASH_ALG_ARGON2ID13,
        );
    }

    /** @param Lock $lock */
    private static function sum(array $lock): string
    {
        return hash('sha256', pack('NN', $lock['passes'], $lock['memory']).$lock['salt'].$lock['nonce'].$lock['key']);
    }
}
