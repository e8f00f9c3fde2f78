<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Seal;

use Geschenk\Core\Seal\DataKey;
use Geschenk\Core\Seal\SealBroken;
use Geschenk\Core\Seal\SealedFile;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** What is sealed is read as it was, by its key and as what it is of, or not at all. */
final class SealedFileTest extends TestCase
{
    use Scratch;

    private DataKey $key;

    protected function setUp(): void
    {
        $this->key = DataKey::random();
    }

    public function testContentOfAnyLengthIsReadAsItWas(): void
    {
        $piece = SealedFile::PIECE;
        foreach ([0, 1, 15, 16, $piece - 1, $piece, $piece + 1, 2 * $piece, 3 * $piece + 7] as $bytes) {
            $content = $bytes > 0 ? random_bytes($bytes) : '';
            $file = $this->sealed($content);
            self::assertSame([$bytes, $content], [$file->bytes(), $file->text()]);
            $stream = $file->open();
            self::assertSame([$content, $bytes], [stream_get_contents($stream), fstat($stream)['size'] ?? null]);
            fclose($stream);
            $file->unseal($this->path('open'));
            self::assertSame($content, file_get_contents($this->path('open')));
        }
    }

    public function testAStreamIsSoughtInAsAFileIs(): void
    {
        $content = random_bytes(2 * SealedFile::PIECE + 100);
        $sealed = $this->sealed($content)->open();
        file_put_contents($this->path('plain'), $content);
        $plain = fopen($this->path('plain'), 'r');
        self::assertIsResource($plain);
        mt_srand(11);
        for ($n = 0; $n < 300; ++$n) {
            $at = mt_rand(0, strlen($content));
            $length = mt_rand(1, 5_000);
            fseek($sealed, $at);
            fseek($plain, $at);
            self::assertSame(fread($plain, $length), self::read($sealed, $length));
            self::assertSame(ftell($plain), ftell($sealed));
        }
        self::assertSame(0, fseek($sealed, -10, \SEEK_END));
        self::assertSame(substr($content, -10), self::read($sealed, 100));
        self::assertTrue(feof($sealed));
    }

    public function testNothingOfItIsReadableAndTheSameIsNeverSealedAlike(): void
    {
        $content = str_repeat('the heron waits for low tide ', 5_000);
        $one = $this->sealed($content, 'a name');
        $bytes = (string) file_get_contents($one->path);
        self::assertStringNotContainsString('heron', $bytes);
        self::assertStringNotContainsString('a name', $bytes);
        self::assertNotSame($bytes, file_get_contents($this->sealed($content, 'a name')->path));
        self::assertNotSame($this->key->nameOf('a name'), $this->key->nameOf('a nam'));
        self::assertSame($this->key->nameOf('a name'), (new DataKey($this->key->bytes()))->nameOf('a name'));
        self::assertNotSame($this->key->nameOf('a name'), DataKey::random()->nameOf('a name'));
    }

    public function testWhateverIsDoneToItItDoesNotOpen(): void
    {
        $length = SealedFile::PIECE + SealedFile::ADDED;
        $content = random_bytes(3 * SealedFile::PIECE + 50);
        $whole = (string) file_get_contents($this->sealed($content)->path);
        $piece = static fn (int $n): string => substr($whole, SealedFile::HEAD + $n * $length, $length);
        $head = substr($whole, 0, SealedFile::HEAD);
        $harms = [
            'nothing' => '', 'its head' => $head, 'half a head' => substr($head, 0, 20),
            'cut in a piece' => substr($whole, 0, -7), 'cut behind a piece' => $head.$piece(0).$piece(1).$piece(2),
            'one left out' => $head.$piece(0).$piece(2).$piece(3), 'two exchanged' => $head.$piece(1).$piece(0)
                .$piece(2).$piece(3), 'one twice' => $head.$piece(0).$piece(0).$piece(2).$piece(3),
            'more behind it' => $whole.'x', 'itself behind it' => $whole.$piece(3),
            'another head' => 'GSEALED2'.substr($whole, 8),
        ];
        mt_srand(5);
        for ($n = 0; $n < 60; ++$n) {
            $at = 0 === $n % 3 ? mt_rand(0, SealedFile::HEAD + 40) : mt_rand(0, strlen($whole) - 1);
            $harms["byte $at"] = substr_replace($whole, chr(ord($whole[$at]) ^ (1 << mt_rand(0, 7))), $at, 1);
        }
        foreach ($harms as $harm => $bytes) {
            file_put_contents($this->path('harmed'), $bytes);
            $file = new SealedFile($this->path('harmed'), $this->key, 'file');
            self::assertFalse($this->opens($file), $harm);
            self::assertFalse($this->opens($file, true), $harm);
            self::assertSame([], glob($this->path('target*')), 'Nothing half.');
        }
    }

    public function testOnlyItsKeyAsWhatItIsOfOpensIt(): void
    {
        $file = $this->sealed('said', 'one');
        self::assertTrue($this->opens(new SealedFile($file->path, $this->key, 'one')));
        self::assertFalse($this->opens(new SealedFile($file->path, $this->key, 'two')));
        self::assertFalse($this->opens(new SealedFile($file->path, DataKey::random(), 'one')));
        self::assertFalse($this->opens(new SealedFile($this->path('none'), $this->key, 'one')));
        symlink($file->path, $this->path('link'));
        self::assertFalse($this->opens(new SealedFile($this->path('link'), $this->key, 'one')), 'No link is followed.');
    }

    public function testMemoryStaysFlat(): void
    {
        $source = fopen('php://temp/maxmemory:0', 'w+');
        self::assertIsResource($source);
        for ($n = 0; $n < 40; ++$n) {
            fwrite($source, str_repeat(chr($n), 1_000_000));
        }
        rewind($source);
        memory_reset_peak_usage();
        $before = memory_get_usage();
        $file = new SealedFile($this->path('large'), $this->key, 'large');
        self::assertSame(40_000_000, $file->seal($source));
        $file->unseal($this->path('open'));
        self::assertLessThan(3_000_000, memory_get_peak_usage() - $before);
        self::assertSame(40_000_000, filesize($this->path('open')));
    }

    private function sealed(string $content, string $of = 'file'): SealedFile
    {
        $file = new SealedFile($this->path('sealed-'.bin2hex(random_bytes(4))), $this->key, $of);
        $file->sealText($content);

        return $file;
    }

    /** @param resource $stream */
    private static function read(mixed $stream, int $length): string
    {
        $read = '';
        while (strlen($read) < $length && !feof($stream)) {
            $read .= fread($stream, max(1, $length - strlen($read)));
        }

        return $read;
    }

    private function opens(SealedFile $file, bool $asStream = false): bool
    {
        try {
            if ($asStream) {
                stream_get_contents($file->open());
                $file->unseal($this->path('target'));
            } else {
                $file->text();
            }

            return true;
        } catch (SealBroken) {
            return false;
        }
    }
}
