<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Files;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Zip\Unzipping;
use Geschenk\Core\Messenger\ReadingApart;
use Geschenk\Core\Messenger\ReadingHere;
use Geschenk\Core\NoProgress;
use Geschenk\Core\UnusableInput;
use Geschenk\Tests\Support\ProgressWithHands;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

/** Archives that came from somebody else: all of one is unpacked, or nothing, and why is said. */
final class UnzippingTest extends TestCase
{
    use Scratch;

    private const PASSWORD = 'four loaves and a Möwe';
    /** Some tools take no others. */
    private const PLAIN_PASSWORD = 'four loaves, one gull';

    public function testAllOfItIsThereWithItsNamesAndTimes(): void
    {
        $files = ['a.txt' => 'one', 'Fähre/Bild 1.jpg' => random_bytes(3_000_000), 'Fähre/leer' => '', 'x/y/z' => 'z'];
        foreach ([null, self::PASSWORD] as $password) {
            $zip = $this->zip(static function (\ZipArchive $zip) use ($files, $password): void {
                $zip->addEmptyDir('Fähre');
                $zip->addEmptyDir('x/y');
                foreach ($files as $name => $content) {
                    $zip->addFromString($name, $content);
                    $zip->setMtimeName($name, 1_700_000_000);
                    null === $password ?: $zip->setEncryptionName($name, \ZipArchive::EM_AES_256, $password);
                }
                $zip->addEmptyDir('nothing');
            });
            self::assertTrue(Unzipping::recognises($zip));
            self::assertSame(null !== $password, Unzipping::isLocked($zip));
            $told = [];
            $progress = new ProgressWithHands(static function (string $phase, int $items) use (&$told): void {
                $told[] = [$phase, $items];
            });
            foreach ([new ReadingHere(), self::apart()] as $n => $reading) {
                $to = $this->path('out-'.$n.(string) $password);
                $reading->unzip($zip, $password, $to, $progress);
                $there = [];
                foreach (Folder::files($to) as $path) {
                    $there[$path] = (string) file_get_contents($to.'/'.$path);
                }
                ksort($files);
                ksort($there);
                self::assertSame($files, $there);
                self::assertSame(1_700_000_000, filemtime($to.'/a.txt'));
            }
            self::assertSame([['unpacking', 4], ['unpacking', 4]], $told);
        }
    }

    /** @return iterable<string, array{string, \Closure(\ZipArchive): void, (\Closure(string): string)|null}> */
    public static function hostile(): iterable
    {
        $names = [
            'above' => '../evil', 'above within' => 'a/../../evil', 'from the root' => '/etc/evil',
            'the other slash' => 'a\\..\\..\\evil', 'a dot' => './evil',
            'too long a name' => str_repeat('n', 256), 'too long a path' => str_repeat('nnn/', 260).'n',
        ];
        foreach ($names as $what => $name) {
            yield $what => ['zip_leads_out', static function (\ZipArchive $zip) use ($name): void {
                $zip->addFromString('fine.txt', 'fine');
                $zip->addFromString($name, 'evil');
            }, null];
        }
        foreach (['a link' => 0o120777, 'a device' => 0o060600, 'a pipe' => 0o010600] as $what => $mode) {
            yield $what => ['zip_no_plain_file', static function (\ZipArchive $zip) use ($mode): void {
                $zip->addFromString('l', '/etc/passwd');
                $zip->setExternalAttributesName('l', \ZipArchive::OPSYS_UNIX, $mode << 16);
            }, null];
        }
        foreach ([
            'another case' => ['Möwe.jpg', 'mÖWE.JPG'], 'another form of a letter' => ["Mo\u{308}we", 'Möwe'],
            'file and folder' => ['a', 'a/b'], 'folder and file' => ['a/b', 'A'],
        ] as $what => [$one, $other]) {
            yield $what => ['zip_twice', static function (\ZipArchive $zip) use ($one, $other): void {
                $zip->addFromString($one, '1');
                $zip->addFromString($other, '2');
            }, null];
        }
        yield 'the same twice' => ['zip_twice', static function (\ZipArchive $zip): void {
            $zip->addFromString('name-1', '1');
            $zip->addFromString('name-2', '2');
        }, static fn (string $bytes): string => str_replace('name-2', 'name-1', $bytes)];
        yield 'cut' => ['zip_cut', static function (\ZipArchive $zip): void {
            $zip->addFromString('a', random_bytes(50_000));
        }, static fn (string $bytes): string => substr($bytes, 0, 30_000)];
        yield 'a byte changed' => ['zip_damaged', static function (\ZipArchive $zip): void {
            $zip->addFromString('a', str_repeat('gull', 9));
            $zip->setCompressionName('a', \ZipArchive::CM_STORE);
        }, static fn (string $bytes): string => str_replace('gullgull', 'gullgulf', $bytes)];
        yield 'a byte changed under a password' => ['zip_damaged', static function (\ZipArchive $zip): void {
            $zip->addFromString('a', str_repeat('gull', 5_000));
            $zip->setCompressionName('a', \ZipArchive::CM_STORE);
            $zip->setEncryptionName('a', \ZipArchive::EM_AES_256, self::PASSWORD);
        }, static fn (string $bytes): string => substr_replace($bytes, $bytes[9_000] ^ "\x01", 9_000, 1)];
        yield 'more than it says' => ['zip_damaged', static function (\ZipArchive $zip): void {
            $zip->addFromString('a', str_repeat('gull', 25_000));
        }, static fn (string $bytes): string => str_replace(pack('V', 100_000), pack('V', 99_000), $bytes)];
        yield 'less than it says' => ['zip_damaged', static function (\ZipArchive $zip): void {
            $zip->addFromString('a', str_repeat('gull', 25_000));
        }, static fn (string $bytes): string => str_replace(pack('V', 100_000), pack('V', 101_000), $bytes)];
        yield 'another password' => ['zip_wrong_password', static function (\ZipArchive $zip): void {
            $zip->addFromString('a', 'a');
            $zip->setEncryptionName('a', \ZipArchive::EM_AES_256, 'another');
        }, null];
        yield 'more than anybody has' => ['zip_too_many', static function (\ZipArchive $zip): void {
            for ($n = 0; $n <= Unzipping::MOST; ++$n) {
                $zip->addEmptyDir((string) $n);
            }
        }, null];
        yield 'a bomb by its word' => ['zip_swells', static function (\ZipArchive $zip): void {
            $zip->addFromString('a', str_repeat("\0", 1_000_000));
        }, static fn (string $bytes): string => str_replace(pack('V', 1_000_000), pack('V', 900_000_000), $bytes)];
    }

    /**
     * @param \Closure(\ZipArchive): void     $make
     * @param (\Closure(string): string)|null $change
     */
    #[DataProvider('hostile')]
    public function testWhatIsNotAsItShouldBeIsRefusedAndNothingIsLeft(
        string $reason,
        \Closure $make,
        ?\Closure $change,
    ): void {
        $zip = $this->zip($make);
        if (null !== $change) {
            $before = (string) file_get_contents($zip);
            $after = $change($before);
            self::assertNotSame($before, $after, 'The test has changed it.');
            file_put_contents($zip, $after);
        }
        $this->expectRefusal($reason, $zip, self::PASSWORD);
        self::assertSame([], glob($this->path('evil').'*') ?: []);
    }

    /** @return iterable<string, array{int, string}> */
    public static function strangers(): iterable
    {
        foreach ([0, 15, 1_000, 8_192, 16_384, 40_000, 1_048_576] as $size) {
            foreach (['-mx0', '-mx5'] as $how) {
                yield "$size bytes, $how" => [$size, $how];
            }
        }
    }

    /** What another program locks has no sum of its own, and a code that tells a change of any byte. */
    #[DataProvider('strangers')]
    public function testWhatAStrangersToolLockedIsUnlockedAndAChangeIsSeen(int $size, string $how): void
    {
        $content = $size > 0 ? random_bytes($size) : '';
        file_put_contents($this->path('one'), $content);
        file_put_contents($this->path('other'), str_repeat('gull ', 9_000));
        $zip = $this->path('locked.zip');
        (new Process([
            '7z', 'a', '-tzip', $how, '-mem=AES256', '-p'.self::PLAIN_PASSWORD, $zip, $this->path('one'),
            $this->path('other'),
        ]))->mustRun();
        (new ReadingHere())->unzip($zip, self::PLAIN_PASSWORD, $this->path('out'), new NoProgress());
        self::assertSame($content, file_get_contents($this->path('out/one')));
        Folder::remove($this->path('out'));
        if (0 === $size) {
            return;
        }
        $bytes = (string) file_get_contents($zip);
        // Behind its header and what was drawn for its key.
        $at = 30 + strlen('one') + 11 + 18 + random_int(0, max(0, $size - 15));
        file_put_contents($zip, substr_replace($bytes, $bytes[$at] ^ "\x10", $at, 1));
        $this->expectRefusal('zip_damaged', $zip, self::PLAIN_PASSWORD);
    }

    public function testOneUnderAPasswordNeedsIt(): void
    {
        $zip = $this->zip(static function (\ZipArchive $zip): void {
            $zip->addFromString('a', 'a');
            $zip->setEncryptionName('a', \ZipArchive::EM_AES_256, self::PASSWORD);
        });
        $this->expectRefusal('zip_needs_password', $zip, null);
    }

    public function testABombIsNoneForTheProcessThatUnpacks(): void
    {
        $large = $this->path('large');
        $stream = fopen($large, 'w') ?: throw new \RuntimeException('No file.');
        ftruncate($stream, 150_000_000);
        fclose($stream);
        $zip = $this->zip(static fn (\ZipArchive $zip) => $zip->addFile($large, 'large'));
        self::assertLessThan(200_000, filesize($zip));
        $this->expectRefusal('zip_swells', $zip, null, self::apart());
    }

    public function testSomethingElseIsNone(): void
    {
        file_put_contents($this->path('none'), 'PK, or so');
        self::assertFalse(Unzipping::recognises($this->path('none')));
        $this->expectRefusal('zip_cut', $this->path('none'), null);
    }

    private function expectRefusal(
        string $reason,
        string $zip,
        ?string $password,
        ReadingHere|ReadingApart $reading = new ReadingHere(),
    ): void {
        $to = $this->path('out');
        try {
            $reading->unzip($zip, $password, $to, new NoProgress());
            self::fail('It was unpacked.');
        } catch (UnusableInput $unusable) {
            self::assertSame($reason, $unusable->reason, $unusable->getMessage());
        }
        self::assertFileDoesNotExist($to);
    }

    /** @param \Closure(\ZipArchive): mixed $make */
    private function zip(\Closure $make): string
    {
        $path = $this->path('in-'.bin2hex(random_bytes(4)).'.zip');
        $zip = new \ZipArchive();
        self::assertTrue($zip->open($path, \ZipArchive::CREATE));
        $make($zip);
        self::assertTrue($zip->close());

        return $path;
    }

    private static function apart(): ReadingApart
    {
        return new ReadingApart(dirname(__DIR__, 3).'/bin/read-chats');
    }
}
