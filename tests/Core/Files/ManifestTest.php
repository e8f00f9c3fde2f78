<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Files;

use Geschenk\Core\Files\Content\FolderContents;
use Geschenk\Core\Files\Content\Manifest;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

final class ManifestTest extends TestCase
{
    use Scratch;

    public function testItListsEveryFileAndReadsItBack(): void
    {
        $manifest = $this->make();
        self::assertSame([2, 8], [$manifest->files, $manifest->bytes]);
        $entries = iterator_to_array($manifest->entries(), false);
        self::assertSame(['a b%.txt', 'sub/c.bin'], array_column($entries, 'path'));
        self::assertSame([hash('sha256', 'hello'), hash('sha256', "\0\n\r")], array_column($entries, 'sha256'));
        self::assertSame($manifest->digest, Manifest::read($this->path('list'))->digest);
    }

    public function testAListThatWasCutOrChangedIsNotRead(): void
    {
        $this->make();
        $good = (string) file_get_contents($this->path('list'));
        foreach ([
            '', substr($good, 0, -1), substr($good, 0, 80), substr($good, 80), $good.$good, strtr($good, '8', '9'),
        ] as $n => $bad) {
            file_put_contents($this->path('list'), $bad);
            try {
                Manifest::read($this->path('list'));
                self::fail("Bad list $n was read.");
            } catch (\UnexpectedValueException) {
                $this->addToAssertionCount(1);
            }
        }
    }

    public function testWhatItListsIsHeldAgainstWhatItListedWhenItWasRead(): void
    {
        $manifest = $this->make();
        $lines = (array) file($this->path('list'));
        unset($lines[1]);
        file_put_contents($this->path('list'), implode('', $lines));
        $this->expectException(\UnexpectedValueException::class);
        iterator_to_array($manifest->entries(), false);
    }

    private function make(): Manifest
    {
        mkdir($this->path('data/sub'), 0o700, true);
        file_put_contents($this->path('data/a b%.txt'), 'hello');
        file_put_contents($this->path('data/sub/c.bin'), "\0\n\r");

        return Manifest::make(
            new FolderContents($this->path('data')), $this->path('list'), static fn (int $bytes) => null,
        );
    }
}
