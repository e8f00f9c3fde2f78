<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Seal;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Seal\KeyFailure;
use Geschenk\Core\Seal\KeyFile;
use Geschenk\Core\Seal\Keyring;
use Geschenk\Core\Seal\PasswordCost;
use Geschenk\Core\UnusableInput;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** Whose key opens what, and what nobody opens any more. */
final class KeyringTest extends TestCase
{
    use Scratch;

    /** Made or told, each key opens what is under it, and is told from none, a wrong one and one that is gone. */
    public function testEachKeyIsItsOwnAndEachLackIsSaid(): void
    {
        $ring = $this->ring();
        self::assertSame('key_lost', $this->why(static fn () => $ring->key('one')));
        self::assertSame('key_lost', $this->why(static fn () => $ring->keyFor('one')), 'None is made by the way.');
        $ring->make();
        self::assertSame('key_made_already', $this->why(static fn () => $ring->make()));
        $one = $ring->keyFor('one');
        self::assertSame($one->bytes(), $this->ring()->keyFor('one')->bytes(), 'Drawn once.');
        self::assertNotSame($one->bytes(), $ring->keyFor('two')->bytes());
        self::assertSame('key_lost', $this->why(static fn () => $ring->key('three')));
        file_put_contents($this->path('other'), random_bytes(40));
        file_put_contents($this->path('short'), random_bytes(KeyFile::LEAST - 1));
        $lacks = ['' => 'key_not_told', 'other' => 'key_wrong', 'short' => 'key_file_short', 'none' => 'key_file_gone'];
        foreach ($lacks as $name => $reason) {
            $under = new Keyring($this->path('keys'), new KeyFile('' === $name ? '' : $this->path($name)));
            foreach ([$under->key(...), $under->keyFor(...), $under->destroy(...)] as $act) {
                self::assertSame($reason, $this->why(static fn () => $act('one')));
            }
            self::assertSame($reason, $this->why($under->ensureOpen(...)));
        }
        $ring->ensureOpen();
    }

    public function testWhatIsDestroyedIsOpenedByNoCopyOfTheDiskWithTheKeysOfTomorrow(): void
    {
        $ring = $this->ring();
        $ring->make();
        $kept = $ring->keyFor('kept')->bytes();
        $ring->keyFor('gone');
        $before = $this->told();
        $ring->destroy('gone');
        self::assertFalse($ring->has('gone'));
        self::assertSame($kept, $this->ring()->key('kept')->bytes());
        $after = $this->told();
        // What lies there now, with the entry of the copy from before put back.
        $after['keys']['gone'] = $before['keys']['gone'];
        file_put_contents($this->path('keys/ring'), json_encode($after));
        self::assertSame('keyring_broken', $this->why(fn () => $this->ring()->key('gone')));
        self::assertSame($kept, $this->ring()->key('kept')->bytes(), 'One bad value costs itself.');
        $ring->destroy('never there');
        $ring = $this->ring();
        $ring->keyFor('third');
        $ring->destroy('third');
        self::assertFalse($ring->has('third'), 'Nor does it keep another from going.');
        self::assertSame($kept, $this->ring()->key('kept')->bytes());
        $this->ring()->destroyAll();
        self::assertFalse($this->ring()->has('kept'));
    }

    public function testTheShopsKeyIsTakenFromAnotherFileOrPassphraseAndNothingIsWrittenAnew(): void
    {
        $ring = $this->ring();
        $ring->make();
        $key = $ring->keyFor('one')->bytes();
        $entries = $this->told()['keys'];
        file_put_contents($this->path('new'), random_bytes(32));
        $ring->tellAnew(new KeyFile($this->path('new')));
        self::assertSame($entries, $this->told()['keys']);
        self::assertSame('key_wrong', $this->why(fn () => $this->ring()->key('one')));
        $ring = $this->ring('new');
        self::assertSame($key, $ring->key('one')->bytes());
        self::assertFalse($ring->isUnderPassphrase());

        $salt = PasswordCost::salt();
        file_put_contents($this->path('passphrase'), $ring->ofPassphrase('low tide', $salt));
        $ring->tellAnew(new KeyFile($this->path('passphrase')), $salt);
        $ring = $this->ring('passphrase');
        self::assertTrue($ring->isUnderPassphrase());
        // At the next start it is made of the passphrase anew; also behind an erasing.
        $ring->destroy('one');
        $ring->keyFor('two');
        file_put_contents($this->path('next'), $ring->ofPassphrase('low tide'));
        $this->ring('next')->key('two');
        file_put_contents($this->path('next'), $ring->ofPassphrase('high tide'));
        self::assertSame('key_wrong', $this->why(fn () => $this->ring('next')->key('two')));
    }

    public function testUnderItsCustomersPasswordTheShopOpensItNoMore(): void
    {
        $ring = $this->ring();
        $ring->make();
        $key = $ring->keyFor('theirs')->bytes();
        $ring->keyFor('ours');
        $before = $this->told();
        $ring->putUnderPassword('theirs', 'a word of their own');
        self::assertTrue($ring->isUnderPassword('theirs'));
        self::assertFalse($ring->isUnderPassword('ours'));
        self::assertSame('backup_locked', $this->why(static fn () => $ring->key('theirs')));
        self::assertSame('backup_locked', $this->why(static fn () => $ring->keyFor('theirs')));
        self::assertNotSame('', $ring->key('ours')->bytes());
        $forged = $this->told();
        $forged['keys']['theirs'] = $before['keys']['theirs'];
        $now = (string) file_get_contents($this->path('keys/ring'));
        file_put_contents($this->path('keys/ring'), json_encode($forged));
        self::assertSame('keyring_broken', $this->why(fn () => $this->ring()->key('theirs')), 'Not by a copy either.');
        file_put_contents($this->path('keys/ring'), $now);
        $why = $this->why(static fn () => $ring->putUnderShopKey('theirs', 'another word'));
        self::assertSame('backup_password_wrong', $why);
        $ring->putUnderShopKey('theirs', 'a word of their own');
        self::assertSame($key, $this->ring()->key('theirs')->bytes());
        $ring->putUnderShopKey('theirs', 'whatever: it is there already');
    }

    public function testOneThatIsNotAsItWasWrittenIsSaidAndNeverMadeAnew(): void
    {
        $ring = $this->ring();
        $ring->make();
        $ring->keyFor('one');
        $whole = (string) file_get_contents($this->path('keys/ring'));
        $told = $this->told();
        $costly = ['salt' => base64_encode(random_bytes(16)), 'passes' => 4, 'memory' => 200_000_000_000];
        $harms = [
            '', 'null', '[]', substr($whole, 0, -9), '{"version":1,"shop":{},"keys":{}}',
            (string) json_encode(['version' => 2] + $told), (string) json_encode(['keys' => ['one' => 7]] + $told),
            (string) json_encode(['keys' => ['one' => ['wrapped' => '', 'password' => 'x']]] + $told),
        ];
        foreach ($harms as $harm) {
            file_put_contents($this->path('keys/ring'), $harm);
            self::assertSame('keyring_broken', $this->why(fn () => $this->ring()->key('one')), $harm);
            self::assertSame('keyring_broken', $this->why(fn () => $this->ring()->keyFor('two')), $harm);
            self::assertSame($harm, file_get_contents($this->path('keys/ring')));
        }
        // A cost that would take the computer down is none.
        $told['keys']['one']['password'] = $costly;
        file_put_contents($this->path('keys/ring'), json_encode($told));
        self::assertSame('keyring_broken', $this->why(fn () => $this->ring()->putUnderShopKey('one', 'word')));
        file_put_contents($this->path('keys/ring'), $whole);
        $this->ring()->key('one');
    }

    public function testManyWhoChangeItAtOnceLoseNothing(): void
    {
        $this->ring()->make();
        $children = [];
        for ($n = 0; $n < 4; ++$n) {
            $child = pcntl_fork();
            if (0 === $child) {
                for ($i = 0; $i < 15; ++$i) {
                    $ring = $this->ring();
                    $ring->keyFor("$n-$i");
                    0 !== $i % 5 ?: $ring->destroy("$n-".($i - 1));
                }
                posix_kill((int) getmypid(), \SIGKILL);
            }
            $children[] = $child;
        }
        foreach ($children as $child) {
            pcntl_waitpid($child, $status);
        }
        for ($n = 0; $n < 4; ++$n) {
            for ($i = 0; $i < 15; ++$i) {
                self::assertSame(!in_array($i, [4, 9], true), $this->ring()->has("$n-$i"), "$n-$i");
                !$this->ring()->has("$n-$i") ?: $this->ring()->key("$n-$i");
            }
        }
    }

    private function ring(string $file = 'key'): Keyring
    {
        Folder::make($this->path(''));
        if ('key' === $file && !is_file($this->path('key'))) {
            file_put_contents($this->path('key'), random_bytes(32));
        }

        return new Keyring($this->path('keys'), new KeyFile($this->path($file)), new PasswordCost(1, 8_192));
    }

    /** @return array{version: int, shop: array<string, mixed>, keys: array<string, array<string, mixed>>} */
    private function told(): array
    {
        /** @var array{version: int, shop: array<string, mixed>, keys: array<string, array<string, mixed>>} $told */
        $told = json_decode((string) file_get_contents($this->path('keys/ring')), true);

        return $told;
    }

    /** @param callable(): mixed $do */
    private function why(callable $do): ?string
    {
        try {
            $do();

            return null;
        } catch (KeyFailure|UnusableInput $failure) {
            return $failure->reason;
        }
    }
}
