<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Archive;

use Geschenk\Core\Archive\Bag;
use Geschenk\Core\Archive\PlainVault;
use Geschenk\Core\Archive\SealedVault;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Seal\KeyFile;
use Geschenk\Core\Seal\Keyring;
use Geschenk\Core\Seal\OpenCopies;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Core\UnusableInput;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What is asked of every vault, however backups lie in it. */
final class VaultsTest extends TestCase
{
    use Scratch;

    private const ID = '0f1e2d3c-0000-4000-8000-000000000001';

    /** @return iterable<string, array{\Closure(string): Vault}> */
    public static function vaults(): iterable
    {
        yield 'open' => [static fn (string $folder): Vault => new PlainVault($folder)];
        yield 'sealed' => [static function (string $folder): Vault {
            $key = dirname($folder).'/key';
            is_file($key) ?: file_put_contents($key, random_bytes(32));
            $ring = new Keyring(dirname($folder).'/keys', new KeyFile($key));
            if (!$ring->isMade()) {
                $ring->make();
            }

            return new SealedVault($folder, $ring, new OpenCopies(sys_get_temp_dir(), $folder));
        }];
    }

    /** @param \Closure(string): Vault $make */
    #[DataProvider('vaults')]
    public function testWhatIsKeptIsReadAsItWasPacked(\Closure $make): void
    {
        $vault = $make($this->path('vault'));
        self::assertFalse($vault->isKept(self::ID));
        $raw = $this->pack($vault);
        self::assertFalse($vault->isKept(self::ID), 'Only begun.');
        self::assertSame(array_sum(array_map(strlen(...), $raw)), $vault->workplace(self::ID)->bytesThere());
        $vault->keep(self::ID);
        self::assertTrue($vault->isKept(self::ID));
        $vault->verify(self::ID);
        // By one who has just come.
        $vault = $make($this->path('vault'));
        $open = $vault->open(self::ID);
        self::assertSame('test', $open->info()['External-Identifier'] ?? null);
        $found = [];
        foreach ($open->raw()->paths() as $path) {
            $found[$path] = (string) stream_get_contents($open->raw()->open($path));
            self::assertSame([strlen($found[$path]), hash('sha256', $found[$path])], [
                $open->raw()->bytes($path), $open->raw()->sha256($path),
            ]);
        }
        ksort($found);
        self::assertSame($raw, $found);
        self::assertNull($open->raw()->bytes('parcels/none'));
        $chats = $open->chats();
        $files = $open->files();
        unset($open);
        self::assertSame(7, $chats->messageCount(), 'For as long as somebody has them in hands.');
        $stream = $files->open('parcels/one.jpg');
        self::assertIsResource($stream);
        self::assertSame('a photo', stream_get_contents($stream));
        self::assertTrue($vault->open(self::ID)->files(true)->put('parcels/one.jpg', $this->path('put')));
        self::assertSame('a photo', file_get_contents($this->path('put')));
    }

    /** @param \Closure(string): Vault $make */
    #[DataProvider('vaults')]
    public function testWhatIsNotAsItWasKeptIsSaid(\Closure $make): void
    {
        $vault = $make($this->path('vault'));
        $this->pack($vault);
        $vault->keep(self::ID);
        $kept = (string) current(array_filter($vault->places(self::ID), is_dir(...)));
        foreach (iterator_to_array(Folder::files($kept), false) as $path) {
            $whole = (string) file_get_contents("$kept/$path");
            $changed = $whole;
            $changed[intdiv(strlen($whole), 2)] = chr(ord($whole[intdiv(strlen($whole), 2)]) ^ 1);
            foreach ([$changed, substr($whole, 0, -2), null] as $harm) {
                null === $harm ? unlink("$kept/$path") : file_put_contents("$kept/$path", $harm);
                self::assertContains(
                    $this->reason(static fn () => $vault->verify(self::ID)), ['backup_broken', 'seal_broken'], $path,
                );
                file_put_contents("$kept/$path", $whole);
            }
        }
        $vault->verify(self::ID);
        self::assertNotNull($this->reason(static fn () => $vault->open('another')->chats()));
        self::assertSame('backup_broken', $this->reason(static fn () => $vault->verify('another')));
    }

    /** @param \Closure(string): Vault $make */
    #[DataProvider('vaults')]
    public function testWhatWasNotPackedAsItLiesIsNotKept(\Closure $make): void
    {
        $vault = $make($this->path('vault'));
        $this->pack($vault);
        file_put_contents($vault->workplace(self::ID)->raw().'/parcels/one.jpg', 'b photo');
        self::assertSame('backup_broken', $this->reason(static fn () => $vault->keep(self::ID)));
        self::assertFalse($vault->isKept(self::ID));
        file_put_contents($vault->workplace(self::ID)->raw().'/parcels/one.jpg', 'a photo');
        $vault->keep(self::ID);
        $vault->verify(self::ID);
    }

    /** @param \Closure(string): Vault $make */
    #[DataProvider('vaults')]
    public function testWhatLiesBesideComesLaterAndGoesWithIt(\Closure $make): void
    {
        $vault = $make($this->path('vault'));
        $this->pack($vault);
        $vault->keep(self::ID);
        $beside = $vault->tagFiles(self::ID, 'address-book');
        self::assertNull($beside->get('one.vcf'));
        foreach (['one.vcf' => 'first', 'two.vcf' => 'second', 'list' => 'l'] as $name => $text) {
            $beside->put($name, $text);
        }
        $beside->put('one.vcf', "first\r\nagain");
        $again = $make($this->path('vault'))->tagFiles(self::ID, 'address-book');
        self::assertSame(["first\r\nagain", 'second'], [$again->get('one.vcf'), $again->get('two.vcf')]);
        $again->keepOnly(['two.vcf']);
        self::assertSame([null, 'second', null], array_map($beside->get(...), ['one.vcf', 'two.vcf', 'list']));
        // The payload is as it was, and nothing is left of any of it.
        $vault->verify(self::ID);
        self::assertSame('second', $vault->tagFiles(self::ID, 'address-book')->get('two.vcf'));
        self::assertGreaterThan(0, $vault->discard(self::ID));
        $vault->sync();
        self::assertNull($beside->get('two.vcf'));
        self::assertFalse($vault->isKept(self::ID));
        self::assertSame([], array_filter($vault->places(self::ID), file_exists(...)));
        self::assertSame(0, $vault->discard(self::ID));
    }

    /** @param \Closure(string): Vault $make */
    #[DataProvider('vaults')]
    public function testWhatWasOnlyBegunGoesByItself(\Closure $make): void
    {
        $vault = $make($this->path('vault'));
        $this->pack($vault);
        $vault->keep(self::ID);
        $vault->workplace('another');
        file_put_contents($vault->workplace('another')->raw().'/half', 'half');
        self::assertSame(4, $vault->workplace('another')->bytesThere());
        self::assertSame(4, $vault->discardBegun('another'));
        self::assertSame(0, $vault->discardBegun(self::ID));
        $vault->verify(self::ID);
        self::assertSame([], array_filter($vault->places('another'), file_exists(...)));
        self::assertGreaterThan(0, $vault->freeBytes());
    }

    /** @return array<string, string> what was pulled, by path */
    private function pack(Vault $vault): array
    {
        $place = $vault->workplace(self::ID);
        $raw = ['parcels/one.jpg' => 'a photo', 'parcels/sub/two.bin' => random_bytes(3_000), 'pouch.db' => 'database'];
        foreach ($raw as $path => $text) {
            Folder::make(dirname($place->raw().'/'.$path));
            Disk::put($place->raw().'/'.$path, $text);
        }
        Chats::store($place->chats(), static function (StoreWriter $writer): void {
            $conversation = $writer->conversation(Chats::direct());
            for ($n = 1; $n <= 7; ++$n) {
                $writer->message($conversation, Chats::text("said $n", 1_700_000_000_000 + $n));
            }
        });
        Bag::pack(
            $place->folder, ['External-Identifier' => 'test'], static fn (string $path): ?string => null,
            static fn (int $bytes) => null,
        );

        return $raw;
    }

    /** @param callable(): mixed $do */
    private function reason(callable $do): ?string
    {
        try {
            $do();

            return null;
        } catch (UnusableInput $broken) {
            return $broken->reason;
        }
    }
}
