<?php

declare(strict_types=1);

namespace Geschenk\Core\Seal;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;

/**
 * The data keys of all that is kept, each under the shop's key or under a password of its customer's. The shop's key is
 * drawn here and lies here too, under what is told at the start: so that can be changed and nothing is written anew.
 * With every key that is destroyed the shop's key is drawn anew and the one before is nowhere any more: a copy of the
 * ring from before opens nothing with what the shop has by then.
 *
 * One file, written as a whole (docs/formats/sealed.md). Whoever changes it holds its lock and has read it anew.
 *
 * @phpstan-type Password array{salt: string, passes: int, memory: int}
 * @phpstan-type Shop array{wrapped: string, passphrase?: Password}
 * @phpstan-type Entry array{wrapped: string, password?: Password}
 * @phpstan-type Ring array{version: int, shop: Shop, keys: array<string, Entry>}
 */
final class Keyring
{
    private const VERSION = 1;
    public const FILE = 'ring';
    private const OF_SHOP = 'geschenk shop key';

    /** @var array{state: string, ring: Ring, key: string|null}|null what was read last */
    private ?array $read = null;

    /** @param string $folder where it lies */
    public function __construct(
        private readonly string $folder,
        private readonly KeySource $source,
        private readonly PasswordCost $cost = new PasswordCost(),
    ) {
    }

    public function isMade(): bool
    {
        clearstatcache(true, $this->path());

        return is_file($this->path());
    }

    /**
     * Makes it, with a key of the shop that is under what is told.
     *
     * @param string|null $salt where that is made of a passphrase: what with
     *
     * @throws KeyFailure where there is one already, or nothing was told
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function make(?string $salt = null): void
    {
        $told = $this->source->told();
        $this->change(function (?array $ring) use ($told, $salt): array {
            null === $ring ?: throw KeyFailure::madeAlready();

            return [
                'version' => self::VERSION, 'keys' => [],
                'shop' => $this->shop(random_bytes(DataKey::BYTES), $told, $this->password($salt)),
            ];
        });
    }

    /**
     * Whether what was told opens it.
     *
     * @throws KeyFailure
     */
    public function ensureOpen(): void
    {
        $this->shopKey($this->ring());
    }

    /** Whether what is told at the start is made of a passphrase. */
    public function isUnderPassphrase(): bool
    {
        return isset($this->ring()['shop']['passphrase']);
    }

    /**
     * What a passphrase makes, to be told in its place: for as long as it takes to start the shop it is in memory.
     *
     * @param string|null $salt a new one where the passphrase is new; null for that of the ring
     *
     * @throws KeyFailure
     */
    public function ofPassphrase(#[\SensitiveParameter] string $passphrase, ?string $salt = null): string
    {
        if (null !== $salt) {
            return $this->cost->key($passphrase, $salt);
        }
        $told = $this->ring()['shop']['passphrase'] ?? throw KeyFailure::wrong();

        return $this->ofPassword($passphrase, $told);
    }

    /**
     * Puts the shop's key under what is told from now on. No data is written anew.
     *
     * @param string|null $salt where that is made of a passphrase: what with
     *
     * @throws KeyFailure
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function tellAnew(KeySource $new, ?string $salt = null): void
    {
        $told = $new->told();
        $this->change(function (?array $ring) use ($told, $salt): array {
            $ring ??= throw KeyFailure::lost();
            $ring['shop'] = $this->shop($this->shopKey($ring), $told, $this->password($salt));

            return $ring;
        });
    }

    /**
     * All of it as it lies on the disk: what is in it is under the shop's key, and that under what is told.
     *
     * @throws KeyFailure  where there is none, or it is not as it was written
     * @throws DiskFailure
     */
    public function asItLies(): string
    {
        $text = $this->isMade() ? Disk::contents($this->path()) : throw KeyFailure::lost();
        $this->parsed($text);

        return $text;
    }

    /**
     * Of what a keyring has keys: that is told by it without any.
     *
     * @param string $text as it lies
     *
     * @return list<string>
     */
    public static function idsIn(string $text): array
    {
        $ring = json_decode($text, true, 8);
        $keys = is_array($ring) && is_array($ring['keys'] ?? null) ? $ring['keys'] : [];

        return array_map(strval(...), array_keys($keys));
    }

    public function has(string $id): bool
    {
        return $this->isMade() && isset($this->ring()['keys'][$id]);
    }

    /** Whether it is under a password of its customer's. */
    public function isUnderPassword(string $id): bool
    {
        return $this->isMade() && isset($this->ring()['keys'][$id]['password']);
    }

    /**
     * @throws KeyFailure where there is no key for it, or none that opens that
     */
    public function key(string $id): DataKey
    {
        $ring = $this->isMade() ? $this->ring() : throw KeyFailure::lost();
        $entry = $ring['keys'][$id] ?? throw KeyFailure::lost();
        if (isset($entry['password'])) {
            throw KeyFailure::needsPassword();
        }

        return new DataKey($this->unwrapped($entry['wrapped'], $this->shopKey($ring), self::of($id)));
    }

    /**
     * The key of something that is begun, drawn where there is none yet; it is on the disk before anything is sealed
     * with it.
     *
     * @throws KeyFailure
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function keyFor(string $id): DataKey
    {
        if ($this->has($id)) {
            return $this->key($id);
        }
        $this->change(function (?array $ring) use ($id): array {
            $ring ??= throw KeyFailure::lost();
            $ring['keys'][$id] ??= [
                'wrapped' => $this->wrapped(DataKey::random()->bytes(), $this->shopKey($ring), self::of($id)),
            ];

            return $ring;
        });

        return $this->key($id);
    }

    /**
     * Destroys a key, and with it whatever is under it. What a copy of the disk from before has of it does not open
     * with the shop's key of from now on.
     *
     * @throws KeyFailure
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function destroy(string $id): void
    {
        !$this->has($id) ?: $this->drop(static fn (array $keys): array => array_diff_key($keys, [$id => true]));
    }

    /**
     * Destroys all that are there.
     *
     * @throws KeyFailure
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function destroyAll(): void
    {
        !$this->isMade() ?: $this->drop(static fn (array $keys): array => []);
    }

    /** @param \Closure(array<string, Entry>): array<string, Entry> $rest */
    private function drop(\Closure $rest): void
    {
        $this->change(function (?array $ring) use ($rest): array {
            $ring ??= throw KeyFailure::lost();
            $ring['keys'] = $rest($ring['keys']);

            return $this->underAnother($ring);
        });
    }

    /**
     * Puts a key under a password of its customer's; with the shop's key alone nobody opens it from then on.
     *
     * @throws KeyFailure
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function putUnderPassword(string $id, #[\SensitiveParameter] string $password): void
    {
        $salt = PasswordCost::salt();
        $key = $this->cost->key($password, $salt);
        $this->change(function (?array $ring) use ($id, $key, $salt): array {
            $ring ??= throw KeyFailure::lost();
            $ring['keys'][$id] = [
                'wrapped' => $this->wrapped($this->key($id)->bytes(), $key, self::of($id)),
                'password' => $this->password($salt),
            ];

            return $this->underAnother($ring);
        });
    }

    /**
     * Puts a key back under the shop's.
     *
     * @throws KeyFailure where it is not the password
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function putUnderShopKey(string $id, #[\SensitiveParameter] string $password): void
    {
        $entry = $this->ring()['keys'][$id] ?? throw KeyFailure::lost();
        if (!isset($entry['password'])) {
            return;
        }
        try {
            $key = Seal::open(
                self::bytes($entry['wrapped']), $this->ofPassword($password, $entry['password']), self::of($id),
            );
        } catch (SealBroken) {
            throw KeyFailure::wrongPassword();
        }
        $this->change(function (?array $ring) use ($id, $key): array {
            $ring ??= throw KeyFailure::lost();
            $ring['keys'][$id] = ['wrapped' => $this->wrapped($key, $this->shopKey($ring), self::of($id))];

            return $ring;
        });
    }

    /**
     * @param Ring $ring
     *
     * @return Ring under another key of the shop's
     */
    private function underAnother(array $ring): array
    {
        $before = $this->shopKey($ring);
        $now = random_bytes(DataKey::BYTES);
        foreach ($ring['keys'] as $id => $entry) {
            $of = self::of((string) $id);
            try {
                if (!isset($entry['password'])) {
                    $key = $this->unwrapped($entry['wrapped'], $before, $of);
                    $ring['keys'][$id]['wrapped'] = $this->wrapped($key, $now, $of);
                }
            } catch (KeyFailure) {
                // One that is damaged opens nothing, and keeps no other from being destroyed.
            }
        }
        $ring['shop'] = $this->shop($now, $this->source->told(), $ring['shop']['passphrase'] ?? null);

        return $ring;
    }

    /**
     * @param Password|null $passphrase
     *
     * @return Shop
     */
    private function shop(
        #[\SensitiveParameter]
        string $key,
        #[\SensitiveParameter]
        string $told,
        ?array $passphrase,
    ): array {
        $wrapped = $this->wrapped($key, self::lock($told), self::OF_SHOP);

        return null === $passphrase ? ['wrapped' => $wrapped] : ['wrapped' => $wrapped, 'passphrase' => $passphrase];
    }

    /** @return ($salt is null ? null : Password) */
    private function password(?string $salt): ?array
    {
        return null === $salt ? null : [
            'salt' => base64_encode($salt), 'passes' => $this->cost->passes, 'memory' => $this->cost->memory,
        ];
    }

    /** @param Password $told */
    private function ofPassword(#[\SensitiveParameter] string $password, array $told): string
    {
        try {
            return (new PasswordCost($told['passes'], $told['memory']))->key($password, self::bytes($told['salt']));
        } catch (\ValueError) {
            throw KeyFailure::ringBroken($this->path());
        }
    }

    /**
     * @param Ring $ring
     *
     * @throws KeyFailure
     */
    private function shopKey(array $ring): string
    {
        if (isset($this->read['key']) && $this->read['ring'] === $ring) {
            return $this->read['key'];
        }
        try {
            $key = Seal::open(self::bytes($ring['shop']['wrapped']), self::lock($this->source->told()), self::OF_SHOP);
        } catch (SealBroken) {
            throw KeyFailure::wrong();
        }
        if (null !== $this->read && $this->read['ring'] === $ring) {
            $this->read['key'] = $key;
        }

        return $key;
    }

    private static function lock(#[\SensitiveParameter] string $told): string
    {
        return hash_hkdf('sha256', $told, DataKey::BYTES, 'geschenk lock of the shop key');
    }

    private function wrapped(#[\SensitiveParameter] string $key, #[\SensitiveParameter] string $by, string $of): string
    {
        return base64_encode(Seal::close($key, $by, $of));
    }

    /** @throws KeyFailure where it is under no key that is there */
    private function unwrapped(string $wrapped, #[\SensitiveParameter] string $by, string $of): string
    {
        try {
            return Seal::open(self::bytes($wrapped), $by, $of);
        } catch (SealBroken) {
            throw KeyFailure::ringBroken($this->path());
        }
    }

    private static function bytes(string $told): string
    {
        return (string) base64_decode($told, true);
    }

    private static function of(string $id): string
    {
        return 'geschenk data key of '.$id;
    }

    private function path(): string
    {
        return $this->folder.'/'.self::FILE;
    }

    /**
     * @return Ring
     *
     * @throws KeyFailure
     */
    private function ring(): array
    {
        $path = $this->path();
        clearstatcache(true, $path);
        $about = @stat($path);
        if (false === $about) {
            throw KeyFailure::lost();
        }
        // It is written under another name and renamed: another file is another number.
        $state = implode(' ', [$about['ino'], $about['size'], $about['mtime'], $about['ctime']]);
        if (null === $this->read || $state !== $this->read['state']) {
            $this->read = ['state' => $state, 'ring' => $this->parsed(Disk::contents($path)), 'key' => null];
        }

        return $this->read['ring'];
    }

    /** @return Ring */
    private function parsed(string $text): array
    {
        $ring = json_decode($text, true, 8);
        $isPassword = static fn (mixed $told): bool => is_array($told) && is_string($told['salt'] ?? null)
            && is_int($told['passes'] ?? null) && is_int($told['memory'] ?? null);
        $isRing = is_array($ring) && self::VERSION === ($ring['version'] ?? null) && is_array($ring['shop'] ?? null)
            && is_string($ring['shop']['wrapped'] ?? null) && is_array($ring['keys'] ?? null)
            && (!isset($ring['shop']['passphrase']) || $isPassword($ring['shop']['passphrase']));
        foreach ($isRing ? $ring['keys'] : [] as $entry) {
            $isRing = $isRing && is_array($entry) && is_string($entry['wrapped'] ?? null)
                && (!isset($entry['password']) || $isPassword($entry['password']));
        }

        /** @var Ring $ring */
        return $isRing ? $ring : throw KeyFailure::ringBroken($this->path());
    }

    /**
     * @param callable(Ring|null): Ring $change
     *
     * @throws KeyFailure
     * @throws DiskFull
     * @throws DiskFailure
     */
    private function change(callable $change): void
    {
        Folder::make($this->folder);
        $lock = Disk::open($this->folder.'/lock', 'c');
        try {
            if (!flock($lock, \LOCK_EX)) {
                throw DiskFailure::at('lock', $this->folder.'/lock');
            }
            $ring = $change($this->isMade() ? $this->ring() : null);
            Disk::put($this->path(), json_encode($ring, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_SLASHES)."\n");
            $this->read = null;
        } finally {
            fclose($lock);
        }
    }
}
