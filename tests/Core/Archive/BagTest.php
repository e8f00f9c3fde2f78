<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Archive;

use Geschenk\Core\Archive\Bag;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\UnusableInput;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

final class BagTest extends TestCase
{
    use Scratch;

    public function testASealedBagIsWhole(): void
    {
        $bag = $this->bag();
        Bag::validate($bag);
        self::assertSame(
            "BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n", file_get_contents($bag.'/bagit.txt'),
        );
        self::assertSame(
            "Bagging-Date: 2026-11-20\nNote: no line: breaks\nPayload-Oxum: 17.3\n",
            file_get_contents($bag.'/bag-info.txt'),
        );
        self::assertStringContainsString(
            "  data/odd%25%0Aname.txt\n", (string) file_get_contents($bag.'/manifest-sha256.txt'),
        );
    }

    /** @return iterable<string, array{callable(string): mixed, string}> */
    public static function damage(): iterable
    {
        yield 'a changed byte' => [
            static fn (string $bag) => file_put_contents($bag.'/data/one.txt', 'Hallo'),
            '"fault":"changed","where":"data/one.txt"',
        ];
        yield 'a missing file' => [
            static fn (string $bag) => unlink($bag.'/data/one.txt'), '"fault":"missing","where":"data/one.txt"',
        ];
        yield 'a file too many' => [
            static fn (string $bag) => file_put_contents($bag.'/data/new.txt', ''),
            '"fault":"other_files","where":"","found":4,"promised":3',
        ];
        yield 'a changed manifest' => [
            static fn (string $bag) => file_put_contents($bag.'/manifest-sha256.txt', "x\n", \FILE_APPEND),
            '"fault":"changed","where":"manifest-sha256.txt"',
        ];
        yield 'no manifest' => [
            static fn (string $bag) => unlink($bag.'/manifest-sha256.txt'),
            '"fault":"missing","where":"manifest-sha256.txt"',
        ];
        yield 'a path that leads out' => [static function (string $bag): void {
            file_put_contents($bag.'/tagmanifest-sha256.txt', str_repeat('0', 64)."  ../outside.txt\n");
        }, '"fault":"bad_line","where":"tagmanifest-sha256.txt","found":1'];
        yield 'no list of its lists' => [
            static fn (string $bag) => unlink($bag.'/tagmanifest-sha256.txt'),
            '"fault":"missing","where":"tagmanifest-sha256.txt"',
        ];
        yield 'another sum in its label' => [static function (string $bag): void {
            file_put_contents($bag.'/bag-info.txt', "Payload-Oxum: 18.3\n");
            $hash = static fn (string $name): string => hash_file('sha256', "$bag/$name")."  $name\n";
            file_put_contents(
                $bag.'/tagmanifest-sha256.txt',
                implode('', array_map($hash, ['bag-info.txt', 'bagit.txt', 'manifest-sha256.txt'])),
            );
        }, '"fault":"other_size","where":"","found":17,"promised":18'];
        yield 'another version' => [
            static fn (string $bag) => file_put_contents($bag.'/bagit.txt', "BagIt-Version: 0.97\n"),
            '"fault":"no_bag"',
        ];
    }

    /** @param callable(string): mixed $damage */
    #[DataProvider('damage')]
    public function testDamageIsFoundAndNamed(callable $damage, string $message): void
    {
        $bag = $this->bag();
        $damage($bag);
        $this->expectException(UnusableInput::class);
        $this->expectExceptionMessageMatches('/'.preg_quote($message, '/').'/');
        Bag::validate($bag);
    }

    /** Whatever happens to whichever file of it: cut, longer, gone, one bit. GESCHENK_SEEDS=1000 searches longer. */
    public function testNoDamageAnywhereInItGoesUnseen(): void
    {
        $good = $this->bag();
        $files = iterator_to_array(Folder::files($good), false);
        for ($seed = 0; $seed < (int) (getenv('GESCHENK_SEEDS') ?: 200); ++$seed) {
            $chance = new Randomizer(new Mt19937($seed));
            $bag = $this->path('harmed');
            Folder::remove($bag);
            exec(sprintf('cp -a %s %s', escapeshellarg($good), escapeshellarg($bag)));
            $path = $files[$chance->getInt(0, count($files) - 1)];
            $bytes = (string) file_get_contents("$bag/$path");
            $at = $chance->getInt(0, strlen($bytes) - 1);
            $harmed = match ($chance->getInt(0, 3)) {
                0 => substr($bytes, 0, $at),
                1 => $bytes.$chance->getBytes($chance->getInt(1, 9)),
                2 => substr_replace($bytes, chr(ord($bytes[$at]) ^ (1 << $chance->getInt(0, 7))), $at, 1),
                default => null,
            };
            null === $harmed ? unlink("$bag/$path") : file_put_contents("$bag/$path", $harmed);
            try {
                Bag::validate($bag);
                self::fail("seed $seed: $path is damaged and was believed");
            } catch (UnusableInput $refused) {
                self::assertNotSame('', $refused->getMessage());
            }
        }
    }

    public function testABackupIsKnownByItsDeclarationAndItsPayload(): void
    {
        $bag = $this->bag();
        self::assertTrue(Bag::recognises($bag));
        rename($bag.'/data', $bag.'/payload');
        self::assertFalse(Bag::recognises($bag));
        rename($bag.'/payload', $bag.'/data');
        unlink($bag.'/bagit.txt');
        self::assertFalse(Bag::recognises($bag));
    }

    public function testHashesThatAreKnownAreNotWorkedOutAgainAndEachFileIsTold(): void
    {
        mkdir($this->path('bag/data'), 0o700, true);
        file_put_contents($this->path('bag/data/a'), 'aaa');
        file_put_contents($this->path('bag/data/b'), 'bbbbb');
        $told = [];
        $known = static fn (string $path): ?string => 'data/a' === $path ? str_repeat('7', 64) : null;
        Bag::pack($this->path('bag'), [], $known, static function (int $bytes) use (&$told): void {
            $told[] = $bytes;
        });
        $manifest = str_repeat('7', 64)."  data/a\n".hash('sha256', 'bbbbb')."  data/b\n";
        self::assertSame($manifest, file_get_contents($this->path('bag/manifest-sha256.txt')));
        self::assertSame([3, 5], $told);
    }

    private function bag(): string
    {
        mkdir($this->path('bag/data/sub'), 0o700, true);
        file_put_contents($this->path('bag/data/one.txt'), 'Hello');
        file_put_contents($this->path('bag/data/sub/two.txt'), 'everybody');
        file_put_contents($this->path("bag/data/odd%\nname.txt"), 'odd');
        Bag::pack(
            $this->path('bag'), ['Bagging-Date' => '2026-11-20', 'Note' => "no\nline: breaks"], static fn () => null,
            static fn () => null,
        );

        return $this->path('bag');
    }
}
