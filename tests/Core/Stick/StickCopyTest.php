<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Stick;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Progress;
use Geschenk\Core\Stick\StickCopy;
use Geschenk\Core\Stick\StickFailure;
use Geschenk\Core\Stick\StickHindrance;
use Geschenk\Standin\Stick\FolderStick;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** What goes onto a stick is there as a whole, read back, or not at all under its name. */
final class StickCopyTest extends TestCase
{
    use Scratch;

    private const LARGE = 3_500_000;

    private FolderStick $stick;

    protected function setUp(): void
    {
        $this->stick = FolderStick::make($this->path('stick'), 'Blue', 20_000_000, true);
        Folder::make($this->path('from/below'));
        file_put_contents($this->path('from/a.txt'), 'first');
        file_put_contents($this->path('from/below/large'), random_bytes(self::LARGE));
        file_put_contents($this->path('from/empty'), '');
        touch($this->path('from/a.txt'), 1_000_000_000);
    }

    public function testAFolderIsThereAsAWholeWithTheDaysOfItsFiles(): void
    {
        $this->put();
        $this->expectThere();
        self::assertSame(1_000_000_000, filemtime($this->stick->folder().'/home/a.txt'));
        self::assertSame(['home'], $this->names());
    }

    public function testAFileIsPutThereLikewise(): void
    {
        (new StickCopy($this->stick))->put($this->path('from/below/large'), 'large.zip', new NoProgress());
        self::assertFileEquals($this->path('from/below/large'), $this->stick->folder().'/large.zip');
        self::assertSame(['large.zip'], $this->names());
    }

    public function testItGoesOnWithinAFileAndWritesNothingTwice(): void
    {
        $this->stick->pullAfter(1_500_000);
        try {
            $this->put();
            self::fail('It was pulled out.');
        } catch (StickHindrance $gone) {
            self::assertSame('stick_gone', $gone->reason);
        }
        $there = (int) filesize($this->path('stick/out/home.part/below/large'));
        self::assertGreaterThan(0, $there);
        $this->stick->plug();
        $inode = fileinode($this->stick->folder().'/home.part/below/large');
        $this->put();
        $this->expectThere();
        $there = fileinode($this->stick->folder().'/home/below/large');
        self::assertSame($inode, $there, 'The same file was gone on with.');
    }

    public function testWhatLiesThereOfAnotherAttemptIsSetRight(): void
    {
        $part = $this->stick->folder().'/home.part';
        Folder::make($part.'/below/large');
        file_put_contents($part.'/below/large/inside', 'a folder where a file goes');
        file_put_contents($part.'/a.txt', 'first and more');
        file_put_contents($part.'/stranger', 'does not belong there');
        file_put_contents($this->path('outside'), 'nobody’s affair');
        symlink($this->path('outside'), $part.'/empty');
        $this->put();
        $this->expectThere();
        self::assertSame('nobody’s affair', file_get_contents($this->path('outside')), 'No link is followed.');
    }

    public function testABeginningThatIsNotItsOwnIsWrittenAnew(): void
    {
        $large = (string) file_get_contents($this->path('from/below/large'));
        $part = $this->stick->folder().'/home.part';
        Folder::make($part.'/below');
        // The second million is another one.
        file_put_contents($part.'/below/large', substr_replace($large, 'x', 1_200_000, 1));
        $this->put();
        $this->expectThere();
    }

    public function testWhatDoesNotFitIsSaidBeforeItsFirstByte(): void
    {
        $small = FolderStick::make($this->path('small'), 'Small', 3_000_000, true);
        try {
            (new StickCopy($small))->put($this->path('from'), 'home', new NoProgress());
            self::fail('It does not fit.');
        } catch (StickHindrance $full) {
            self::assertSame('stick_full', $full->reason);
            self::assertSame(self::LARGE, $full->fields['needed_bytes']);
        }
        self::assertSame(0, (int) @filesize($small->folder().'/home.part/below/large'));
        (new StickCopy($small))->discardBegun('home');
        self::assertSame([], glob($small->folder().'/*'));
    }

    public function testAStickThatAltersWhatWasWrittenIsNotBelieved(): void
    {
        $spoilt = $this->stick->folder().'/home.part/below/large';
        $alters = new class($spoilt) implements Progress {
            public function __construct(private readonly string $path)
            {
            }

            public function phase(string $name, int $items = 0, int $bytes = 0): void
            {
                if ('reading_back' === $name) {
                    $stream = fopen($this->path, 'r+') ?: throw new \LogicException('It was written.');
                    fseek($stream, 2_000_000);
                    fwrite($stream, 'altered');
                    fclose($stream);
                }
            }

            public function advance(int $items, int $bytes = 0): void
            {
            }
        };
        try {
            (new StickCopy($this->stick))->put($this->path('from'), 'home', $alters);
            self::fail('It was altered.');
        } catch (StickFailure $altered) {
            self::assertSame(['stick_altered', 'large'], [$altered->reason, $altered->fields['path']]);
        }
        self::assertSame(['home.part'], $this->names());
    }

    public function testWhetherTheSameLiesThereIsAskedOfEachByte(): void
    {
        $copy = new StickCopy($this->stick);
        $this->put();
        self::assertTrue($copy->has('home'));
        self::assertFalse($copy->has('house'));
        self::assertTrue($copy->holds($this->path('from'), 'home'));
        file_put_contents($this->stick->folder().'/home/a.txt', 'firsT');
        self::assertFalse($copy->holds($this->path('from'), 'home'));
        file_put_contents($this->stick->folder().'/home/a.txt', 'first');
        file_put_contents($this->stick->folder().'/home/more', '');
        self::assertFalse($copy->holds($this->path('from'), 'home'));
        self::assertFalse($copy->holds($this->path('from/a.txt'), 'home'));
    }

    private function put(): void
    {
        (new StickCopy($this->stick))->put($this->path('from'), 'home', new NoProgress());
    }

    private function expectThere(): void
    {
        $there = $this->stick->folder().'/home';
        self::assertSame(
            iterator_to_array(Folder::files($this->path('from')), false),
            iterator_to_array(Folder::files($there), false),
        );
        foreach (Folder::files($there) as $file) {
            self::assertFileEquals($this->path('from').'/'.$file, $there.'/'.$file);
        }
    }

    /** @return list<string> */
    private function names(): array
    {
        return array_map(basename(...), glob($this->stick->folder().'/*') ?: []);
    }
}
