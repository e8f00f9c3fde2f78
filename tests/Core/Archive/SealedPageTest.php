<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Archive;

use Geschenk\Core\Archive\Bag;
use Geschenk\Core\Archive\SealedVault;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Seal\KeyFailure;
use Geschenk\Core\Seal\KeyFile;
use Geschenk\Core\Seal\Keyring;
use Geschenk\Core\Seal\OpenCopies;
use Geschenk\Core\Seal\PasswordCost;
use Geschenk\Core\UnusableInput;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** docs/formats/sealed.md is enough to read what lies there: here is a reader that uses no part of ours. */
final class SealedPageTest extends TestCase
{
    use Scratch;

    private const ID = '0f1e2d3c-0000-4000-8000-000000000001';
    private const FILES = ['raw/parcels/Ärmel %.jpg' => 70_000, 'raw/pouch.db' => 131_072, 'raw/empty' => 0];

    public function testAStrangersReaderReadsIt(): void
    {
        $vault = $this->vault();
        foreach (self::FILES as $path => $bytes) {
            Folder::make(dirname($this->part().'/data/'.$path));
            file_put_contents($this->part().'/data/'.$path, $this->bytes($bytes));
        }
        Bag::pack($this->part(), ['External-Identifier' => 'x'], static fn () => null, static fn (int $bytes) => null);
        $bag = [];
        foreach (Folder::files($this->part()) as $path) {
            $bag[$path] = (string) file_get_contents($this->part().'/'.$path);
        }
        $vault->keep(self::ID);
        $vault->tagFiles(self::ID, 'address-book')->put('one.vcf', 'BEGIN:VCARD');

        $key = $this->dataKey((string) file_get_contents($this->path('key')));
        $manifest = $this->file($key, 'manifest-sha256.txt');
        foreach (explode("\n", trim($manifest)) as $line) {
            [$sha256, $path] = explode('  ', $line);
            $path = str_replace('%25', '%', $path);
            self::assertSame($bag[$path], $this->file($key, $path), $path);
            self::assertSame($sha256, hash('sha256', $bag[$path]));
        }
        foreach (['bagit.txt', 'bag-info.txt', 'tagmanifest-sha256.txt'] as $path) {
            self::assertSame($bag[$path], $this->file($key, $path));
        }
        $name = static fn (string $of): string => substr(
            hash_hmac('sha256', $of, hash_hkdf('sha256', $key, 32, 'geschenk names')), 0, 48,
        );
        $tag = (string) file_get_contents(sprintf(
            '%s/backups/%s.sealed/tags-%s/%s', $this->path(''), self::ID, $name('tag file address-book/'),
            $name('tag file address-book/one.vcf'),
        ));
        $texts = hash_hkdf('sha256', $key, 32, 'geschenk texts');
        self::assertSame('BEGIN:VCARD', self::unsealed($tag, $texts, 'tag file address-book/one.vcf'));
    }

    public function testItIsReadWithAPassphraseAndACustomersPasswordToo(): void
    {
        $vault = $this->vault();
        file_put_contents(Folder::make($this->part().'/data').'/one', 'said');
        Bag::pack($this->part(), [], static fn () => null, static fn (int $bytes) => null);
        $vault->keep(self::ID);
        $salt = PasswordCost::salt();
        $ring = $this->ring();
        file_put_contents($this->path('other'), $ring->ofPassphrase('low tide', $salt));
        $ring->tellAnew(new KeyFile($this->path('other')), $salt);
        $shop = $this->told()['shop'];
        $told = self::argon('low tide', $shop['passphrase']);
        self::assertSame('said', $this->file($this->dataKey($told), 'data/one'));

        $ring = new Keyring($this->path('keys'), new KeyFile($this->path('other')), new PasswordCost(1, 8_192));
        $ring->putUnderPassword(self::ID, 'of the customer');
        $entry = $this->told()['keys'][self::ID];
        $key = self::unsealed(
            (string) base64_decode($entry['wrapped'], true), self::argon('of the customer', $entry['password']),
            'geschenk data key of '.self::ID,
        );
        self::assertSame('said', $this->file($key, 'data/one'));
    }

    public function testWhatIsErasedIsOpenedByNoCopyOfItWithTheKeysOfLater(): void
    {
        $vault = $this->vault();
        foreach ([self::ID, 'another'] as $id) {
            file_put_contents(Folder::make($this->path("backups/$id.part/data")).'/one', 'said');
            Bag::pack($this->path("backups/$id.part"), [], static fn () => null, static fn (int $bytes) => null);
            $vault->keep($id);
        }
        exec(sprintf('cp -a %s %s', escapeshellarg($this->path('backups')), escapeshellarg($this->path('copy'))));
        $ring = $this->told();
        $vault->discard(self::ID);
        Folder::remove($this->path('backups'));
        rename($this->path('copy'), $this->path('backups'));
        $why = function () use ($vault): string {
            try {
                $vault->verify(self::ID);
            } catch (KeyFailure|UnusableInput $failure) {
                return $failure->reason;
            }

            return 'it opened';
        };
        self::assertSame('key_lost', $why());
        $now = $this->told();
        $now['keys'] += $ring['keys'];
        file_put_contents($this->path('keys/ring'), json_encode($now));
        $vault = $this->vault();
        self::assertSame('keyring_broken', $why());
        $vault->verify('another');
    }

    private function bytes(int $bytes): string
    {
        return $bytes > 0 ? random_bytes($bytes) : '';
    }

    private function part(): string
    {
        return $this->path('backups/'.self::ID.'.part');
    }

    private function ring(): Keyring
    {
        return new Keyring($this->path('keys'), new KeyFile($this->path('key')), new PasswordCost(1, 8_192));
    }

    private function vault(): SealedVault
    {
        Folder::make($this->path('backups'));
        if (!is_file($this->path('key'))) {
            file_put_contents($this->path('key'), random_bytes(48));
            $this->ring()->make();
        }

        return new SealedVault(
            $this->path('backups'), $this->ring(), new OpenCopies(sys_get_temp_dir(), $this->path('backups')),
        );
    }

    /** The keyring as the page says. */
    private function dataKey(string $told): string
    {
        $ring = $this->told();
        $lock = hash_hkdf('sha256', $told, 32, 'geschenk lock of the shop key');
        $shop = self::unsealed((string) base64_decode($ring['shop']['wrapped'], true), $lock, 'geschenk shop key');

        return self::unsealed(
            (string) base64_decode($ring['keys'][self::ID]['wrapped'], true), $shop, 'geschenk data key of '.self::ID,
        );
    }

    /**
     * @return array{
     *     shop: array{wrapped: string, passphrase: array{salt: string, passes: int, memory: int}},
     *     keys: array<string, array{wrapped: string, password: array{salt: string, passes: int, memory: int}}>,
     * }
     */
    private function told(): array
    {
        /**
         * @var array{
         *     shop: array{wrapped: string, passphrase: array{salt: string, passes: int, memory: int}},
         *     keys: array<string, array{wrapped: string, password: array{salt: string, passes: int, memory: int}}>,
         * } $ring
         */
        $ring = json_decode((string) file_get_contents($this->path('keys/ring')), true);

        return $ring;
    }

    /** @param array{salt: string, passes: int, memory: int} $cost */
    private static function argon(string $word, array $cost): string
    {
        return sodium_crypto_pwhash(
            32, $word, (string) base64_decode($cost['salt'], true), $cost['passes'], $cost['memory'],
        );
    }

    private static function unsealed(string $sealed, string $key, string $of): string
    {
        $nonce = substr($sealed, 0, 24);
        $text = sodium_crypto_aead_xchacha20poly1305_ietf_decrypt(substr($sealed, 24), $of, $nonce, $key);

        return false === $text ? self::fail("$of does not open.") : $text;
    }

    /** A file of the bag as the page says. */
    private function file(string $key, string $path): string
    {
        $name = substr(hash_hmac('sha256', $path, hash_hkdf('sha256', $key, 32, 'geschenk names')), 0, 48);
        $bytes = (string) file_get_contents(
            $this->path('backups/'.self::ID.'.sealed/'.substr($name, 0, 2).'/'.substr($name, 2)),
        );
        self::assertSame("GSEALED\x01", substr($bytes, 0, 8));
        $of = hash_hkdf('sha256', $key, 32, 'geschenk file '.$path, substr($bytes, 8, 32));
        $pieces = str_split(substr($bytes, 40), 12 + 65_536 + 16);
        $content = '';
        foreach ($pieces as $n => $piece) {
            $opened = openssl_decrypt(
                substr($piece, 12, -16), 'aes-256-gcm', $of, \OPENSSL_RAW_DATA, substr($piece, 0, 12),
                substr($piece, -16), pack('J', $n).chr((int) ($n === count($pieces) - 1)),
            );
            $content .= false === $opened ? self::fail("Piece $n of $path does not open.") : $opened;
        }

        return $content;
    }
}
