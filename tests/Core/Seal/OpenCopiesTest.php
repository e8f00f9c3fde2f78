<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Seal;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Seal\DataKey;
use Geschenk\Core\Seal\MemoryLacks;
use Geschenk\Core\Seal\OpenCopies;
use Geschenk\Core\Seal\SealBroken;
use Geschenk\Core\Seal\SealedFile;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** What is unsealed as a whole: shared for a while, bounded, and in nobody else's folder. */
final class OpenCopiesTest extends TestCase
{
    use Scratch;

    public function testWhoComesLaterFindsItAndWhoHasItKeepsItWhateverIsSwept(): void
    {
        $copies = $this->copies();
        $file = $this->sealed('one', 'said');
        $first = $copies->of($file);
        $second = $copies->of($file);
        self::assertSame(fileinode($first->path), fileinode($second->path));
        $copies->sweep(0);
        self::assertSame('said', file_get_contents($first->path));
        $path = $first->path;
        unset($first);
        self::assertFileDoesNotExist($path);
        self::assertSame('said', file_get_contents($second->path));
        $third = $copies->of($file);
        self::assertNotSame(fileinode($second->path), fileinode($third->path), 'Unsealed anew.');
        unset($second, $third);
        $copies->drop(dirname($file->path, 2));
        self::assertSame([], $this->shared());
        // One that was sealed anew under the same name is another.
        $copies->of($file);
        $file->sealText('said otherwise');
        $another = $copies->of($file);
        self::assertSame('said otherwise', file_get_contents($another->path));
    }

    public function testTheyTakeNoMoreThanTheyMayAndTheOldestGoFirst(): void
    {
        $copies = $this->copies(250);
        foreach (['one', 'two', 'three'] as $n => $name) {
            $copies->of($this->sealed($name, str_repeat('x', 100)));
            touch($this->shared()[0] ?? '', 1_000_000_000 + $n);
        }
        self::assertCount(2, $this->shared());
        $this->expectException(MemoryLacks::class);
        $copies->of($this->sealed('large', str_repeat('x', 300)));
    }

    public function testWhatDoesNotUnsealLeavesNothing(): void
    {
        $file = $this->sealed('one', 'said');
        file_put_contents($file->path, strrev((string) file_get_contents($file->path)));
        try {
            $this->copies()->of($file);
            self::fail('It does not unseal.');
        } catch (SealBroken) {
            self::assertSame([], iterator_to_array(Folder::files($this->path('memory')), false));
        }
    }

    public function testInAFolderThatSomebodyElseHasPutThereNothingIsShownAndNothingTakenFromIt(): void
    {
        $copies = $this->copies();
        $file = $this->sealed('one', 'said');
        $copies->of($file);
        $folder = dirname($this->shared()[0] ?? self::fail('It is shared.'));
        $name = basename($this->shared()[0]);
        foreach (['open to all', 'a link'] as $how) {
            Folder::remove($folder);
            if ('a link' === $how) {
                symlink(Folder::make($this->path('elsewhere')), $folder);
            } else {
                mkdir($folder);
                chmod($folder, 0o777);
            }
            file_put_contents($folder.'/'.$name, 'made by somebody else');
            $mine = $copies->of($file);
            self::assertSame('said', file_get_contents($mine->path), $how);
            self::assertSame('made by somebody else', file_get_contents($folder.'/'.$name), $how);
            self::assertCount(1, iterator_to_array(Folder::files($folder.'/'), false));
        }
    }

    private function copies(int $most = 1_000_000): OpenCopies
    {
        return new OpenCopies(Folder::make($this->path('memory')), $this->path('vault'), $most);
    }

    private function sealed(string $name, string $content): SealedFile
    {
        Folder::make($this->path('vault/bag/aa'));
        $file = new SealedFile($this->path('vault/bag/aa/'.$name), DataKey::random(), $name);
        $file->sealText($content);

        return $file;
    }

    /** @return list<string> those that are shared, the newest first */
    private function shared(): array
    {
        clearstatcache();
        $paths = glob($this->path('memory/geschenk-open-*/*')) ?: [];
        usort($paths, static fn (string $a, string $b): int => (int) filemtime($b) <=> (int) filemtime($a));

        return $paths;
    }
}
