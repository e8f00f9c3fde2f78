<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Files;

use Geschenk\Core\Files\Content\ManyHashes;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

final class ManyHashesTest extends TestCase
{
    use Scratch;

    public function testEachFileHasItsOwnWhateverItsName(): void
    {
        $paths = $expected = [];
        $fake = "x\n".str_repeat('0', 64).' *y';
        $names = ['plain', 'with space', '-r', "'quoted'", '*', 'ünï', '$(id)', 'a', 'b', 'c', 'empty'];
        foreach ($names as $n => $name) {
            $paths[] = $this->path($name);
            file_put_contents($this->path($name), 'empty' === $name ? '' : str_repeat($name, 1_000 * $n + 1));
            $expected[] = hash_file('sha256', $this->path($name));
        }
        self::assertSame($expected, ManyHashes::of($paths));
        // A name that looks like an answer makes its share be read one by one.
        file_put_contents($this->path($fake), 'forged');
        $hashes = ManyHashes::of([...$paths, $this->path($fake)]);
        self::assertNotContains(str_repeat('0', 64), $hashes);
        foreach ($hashes as $n => $hash) {
            self::assertContains($hash, [null, $expected[$n] ?? null]);
        }
    }

    public function testWhatCanNotBeReadIsNoAnswer(): void
    {
        $paths = [];
        for ($n = 0; $n < 20; ++$n) {
            $paths[] = $this->path("file-$n");
            file_put_contents($this->path("file-$n"), "content $n");
        }
        unlink($paths[4]);
        $hashes = ManyHashes::of($paths);
        self::assertNull($hashes[4]);
        self::assertSame(hash_file('sha256', $paths[5]), $hashes[5]);
        self::assertSame([null, null], ManyHashes::of(array_slice($paths, 0, 2)), 'A few are read by themselves.');
    }

    public function testLargeFilesAndSmallOnesHashAlike(): void
    {
        foreach ([0, 1, 262_144, 7_999_999, 8_000_000, 8_000_001, 9_000_000] as $bytes) {
            file_put_contents($this->path('file'), str_repeat('x', $bytes));
            self::assertSame(hash_file('sha256', $this->path('file')), Disk::sha256($this->path('file')), "$bytes");
        }
    }
}
