<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\SecondPlace;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Seal\DataKey;
use Geschenk\Core\Seal\SealedFile;
use Geschenk\Core\SecondPlace\PlaceCopies;
use Geschenk\Core\SecondPlace\PlaceFailure;
use Geschenk\Tests\Support\FolderPlace;
use Geschenk\Tests\Support\RecordedProgress;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** A copy at the second place is whole or none, tells nothing to whoever looks there, and comes back as it went. */
final class PlaceCopiesTest extends TestCase
{
    use Scratch;

    private const NAME = 'one';
    private const PORTION = 1_024;
    private const PLANTED = 'Hattie’s letter about the boat';

    private FolderPlace $place;
    private PlaceCopies $copies;
    private DataKey $key;

    protected function setUp(): void
    {
        $this->place = new FolderPlace($this->path('place'));
        $this->copies = new PlaceCopies($this->place, self::PORTION);
        $this->key = DataKey::random();
        foreach ($this->content() as $path => $bytes) {
            Folder::make(dirname($this->path('from/'.$path)));
            file_put_contents($this->path('from/'.$path), $bytes);
        }
    }

    /** @return array<string, string> files that end within a portion, at its end, and go over several */
    private function content(): array
    {
        $noise = str_repeat(hash('sha512', 'noise', true), intdiv(self::PORTION, 64));

        return [
            'a.txt' => self::PLANTED, 'below/empty' => '', 'below/even' => substr($noise, strlen(self::PLANTED)),
            'large' => $noise."\n".strrev($noise), "od\xffd %41\n" => 'a name of any bytes',
        ];
    }

    public function testItComesBackAsItWent(): void
    {
        $placed = $this->copies->put(self::NAME, $this->path('from'), $this->key);
        self::assertSame([5, $placed->bytes], [$placed->files, $placed->new]);
        self::assertSame([self::NAME], $this->copies->names());
        self::assertSame(array_keys($this->content()), $this->brought());
        $this->expectSame();
        self::assertSame([], $this->brought(), 'What lies here already stays.');
        $this->copies->readBack(self::NAME, $this->key);
        self::assertEqualsCanonicalizing(array_keys($this->content()), $this->copies->paths(self::NAME, $this->key));
    }

    public function testNothingOfItIsToldToWhoeverLooksThere(): void
    {
        $this->copies->put(self::NAME, $this->path('from'), $this->key);
        self::assertCount(5, $this->place->all(), 'Four portions and a list.');
        foreach ($this->place->all() as $path) {
            $lies = $path.file_get_contents($this->place->folder.'/'.$path);
            self::assertStringNotContainsString(self::PLANTED, $lies);
            self::assertStringNotContainsString('below', $lies);
        }
        $this->expectException(PlaceFailure::class);
        $this->copies->readBack(self::NAME, DataKey::random());
    }

    public function testWhoeverGoesOnPutsNothingTwice(): void
    {
        $bytes = array_sum(array_map(strlen(...), $this->content()));
        $this->place->left = (int) ($bytes / 2);
        try {
            $this->copies->put(self::NAME, $this->path('from'), $this->key);
            self::fail('It broke off.');
        } catch (PlaceFailure $gone) {
            self::assertSame('place_gone', $gone->reason);
        }
        $this->place->left = null;
        $before = count($this->place->put);
        self::assertGreaterThan(0, $before);
        $placed = $this->copies->put(self::NAME, $this->path('from'), $this->key);
        self::assertLessThan($placed->bytes, $placed->new);
        self::assertCount(5, array_unique($this->place->put), 'Each of them once.');
        self::assertCount(5, $this->place->put);
        $this->brought();
        $this->expectSame();
    }

    public function testWhatWasThereStaysWholeUntilTheNextIs(): void
    {
        $this->copies->put(self::NAME, $this->path('from'), $this->key);
        file_put_contents($this->path('from/large'), 'another', \FILE_APPEND);
        file_put_contents($this->path('from/new'), 'came later');
        foreach ([0, 100, 1_000, 1_100] as $left) {
            $this->place->left = $left;
            try {
                $this->copies->put(self::NAME, $this->path('from'), $this->key);
                self::fail("It broke off after $left.");
            } catch (PlaceFailure) {
                Folder::remove($this->path('to'));
                $this->brought();
                $this->expectSame();
            }
        }
        $this->place->left = null;
        $this->copies->put(self::NAME, $this->path('from'), $this->key);
        $this->brought();
        self::assertFileEquals($this->path('from/new'), $this->path('to/new'));
        self::assertFileEquals($this->path('from/large'), $this->path('to/large'));
        self::assertCount(5, $this->place->all(), 'Nothing is left of the one before.');
    }

    public function testWhatHasChangedWhileItWasReadIsNoCopy(): void
    {
        $this->copies->put(self::NAME, $this->path('from'), $this->key);
        $before = $this->place->all();
        file_put_contents($this->path('from/large'), 'another', \FILE_APPEND);
        $isStill = static fn (): bool => false;
        self::assertFalse($this->copies->put(
            self::NAME, $this->path('from'), $this->key, isStill: $isStill,
        )->isThere);
        self::assertSame([], array_diff($before, $this->place->all()), 'The one before is there still.');
        // Whoever comes next puts nothing twice, and leaves nothing behind.
        $next = $this->copies->put(self::NAME, $this->path('from'), $this->key, isStill: static fn (): bool => true);
        self::assertSame([true, 0], [$next->isThere, $next->new]);
        self::assertCount(count($before), $this->place->all());
        $this->brought();
        self::assertFileEquals($this->path('from/large'), $this->path('to/large'));
    }

    /** @return iterable<string, array{\Closure(string): mixed}> */
    public static function harms(): iterable
    {
        yield 'a byte' => [static function (string $path): void {
            $bytes = (string) file_get_contents($path);
            $bytes[intdiv(strlen($bytes), 2)] = chr(ord($bytes[intdiv(strlen($bytes), 2)]) ^ 4);
            file_put_contents($path, $bytes);
        }];
        yield 'cut' => [static fn (string $path) => file_put_contents($path, substr((string) file_get_contents(
            $path,
        ), 0, -7))];
        yield 'empty' => [static fn (string $path) => file_put_contents($path, '')];
        yield 'gone' => [static fn (string $path) => unlink($path)];
    }

    /** @param \Closure(string): mixed $harm */
    #[DataProvider('harms')]
    public function testHarmIsFoundAndPutRight(\Closure $harm): void
    {
        $this->copies->put(self::NAME, $this->path('from'), $this->key);
        foreach ($this->place->all() as $path) {
            $harm($this->place->folder.'/'.$path);
            try {
                $this->copies->readBack(self::NAME, $this->key);
                self::fail("$path is harmed.");
            } catch (PlaceFailure $failure) {
                self::assertContains($failure->reason, ['place_altered', 'place_without', 'place_failure']);
            }
            Folder::remove($this->path('to'));
            try {
                $this->brought();
                self::fail("$path is harmed.");
            } catch (PlaceFailure) {
                self::assertSame([], glob($this->path('to*coming')), 'Nothing half written.');
            }
            // Its list is known to be wrong: so nothing is taken for known.
            $this->copies->remove(self::NAME);
            $this->copies->put(self::NAME, $this->path('from'), $this->key);
            $this->copies->readBack(self::NAME, $this->key);
        }
    }

    public function testPortionsOfAnotherCopyAreNotTakenForItsOwn(): void
    {
        $this->copies->put(self::NAME, $this->path('from'), $this->key);
        Folder::make($this->path('other'));
        file_put_contents($this->path('other/a'), 'another');
        $this->copies->put('two', $this->path('other'), $this->key);
        $lists = glob($this->place->folder.'/copies/*/list-*') ?: [];
        self::assertCount(2, $lists);
        copy($lists[1], $lists[0]);
        $this->expectException(PlaceFailure::class);
        $this->copies->readBack(self::NAME, $this->key);
    }

    public function testOnlyWhatIsWantedIsBroughtAndOnlyThatTravels(): void
    {
        $this->copies->put(self::NAME, $this->path('from'), $this->key);
        $this->place->read = [];
        $brought = $this->copies->bring(
            self::NAME, $this->key, $this->path('to'), isWanted: static fn (string $path): bool => 'a.txt' === $path,
        );
        self::assertSame(['a.txt'], $brought);
        self::assertCount(2, $this->place->read, 'The list, and the portion that it lies in.');
    }

    public function testOneWithoutAFileAndOneThatIsNotThere(): void
    {
        Folder::make($this->path('nothing'));
        $this->copies->put('empty', $this->path('nothing'), $this->key);
        $this->copies->readBack('empty', $this->key);
        $this->copies->remove('empty');
        $this->copies->remove('empty');
        try {
            $this->copies->readBack('empty', $this->key);
            self::fail('It is not there.');
        } catch (PlaceFailure $without) {
            self::assertSame('place_without', $without->reason);
        }
    }

    public function testItTellsHowFarItIs(): void
    {
        $told = new RecordedProgress();
        $done = static fn (): array => array_slice($told->phases[''] ?? [], 2);
        $bytes = array_sum(array_map(strlen(...), $this->content()));
        $this->copies->put(self::NAME, $this->path('from'), $this->key, $told);
        self::assertSame([5, $bytes], $done());
        $this->copies->readBack(self::NAME, $this->key, $told);
        self::assertSame([5, 2 * $bytes], $done());
        $this->copies->bring(self::NAME, $this->key, $this->path('to'), $told);
        self::assertSame([10, 3 * $bytes], $done());
    }

    /** @return iterable<string, array{list<array<string, mixed>>}> lines that whoever has the key could have made */
    public static function strangeLists(): iterable
    {
        $end = ['end' => 1, 'files' => 1, 'bytes' => 0];
        $empty = hash('sha256', '');
        yield 'a path that leads outside' => [[['file' => '../outside', 'bytes' => 0, 'sha256' => $empty], $end]];
        $disguised = ['file' => 'a/%2e%2e/%2e%2e/outside', 'bytes' => 0, 'sha256' => $empty];
        yield 'one that does so in disguise' => [[$disguised, $end]];
        yield 'no hash' => [[['file' => 'a', 'bytes' => 0], $end]];
        yield 'no size' => [[['file' => 'a', 'sha256' => $empty], $end]];
        yield 'a portion without a size' => [[['portion' => $empty], $end]];
        yield 'bytes that no portion has' => [[['file' => 'a', 'bytes' => 4, 'sha256' => $empty], $end]];
        yield 'no end' => [[['file' => 'a', 'bytes' => 0, 'sha256' => $empty]]];
    }

    /** @param list<array<string, mixed>> $lines */
    #[DataProvider('strangeLists')]
    public function testAListIsNotBelievedWhateverItSays(array $lines): void
    {
        $text = '';
        foreach ($lines as $line) {
            $text .= json_encode($line, \JSON_THROW_ON_ERROR)."\n";
        }
        Folder::make($this->path('place/copies/one'));
        (new SealedFile($this->path('place/copies/one/list-0000000001'), $this->key, 'list of one'))->sealText($text);
        try {
            $this->brought();
            self::fail('It is strange.');
        } catch (PlaceFailure $failure) {
            self::assertSame('place_altered', $failure->reason);
        }
        self::assertFileDoesNotExist($this->path('outside'));
        self::assertFileDoesNotExist($this->path('to/a'));
    }

    public function testTheNewestListCountsInWhateverOrderAPlaceTellsOfThem(): void
    {
        $this->copies->put(self::NAME, $this->path('from'), $this->key);
        $first = $this->path('place/copies/one/list-0000000001');
        copy($first, $this->path('kept'));
        file_put_contents($this->path('from/new'), 'came later');
        $this->copies->put(self::NAME, $this->path('from'), $this->key);
        copy($this->path('kept'), $first);
        foreach ([false, true] as $isTurned) {
            $this->place->isTurned = $isTurned;
            self::assertContains('new', $this->copies->paths(self::NAME, $this->key));
        }
    }

    /** @return list<string> */
    private function brought(): array
    {
        return $this->copies->bring(self::NAME, $this->key, $this->path('to'));
    }

    private function expectSame(): void
    {
        foreach ($this->content() as $path => $bytes) {
            self::assertSame($bytes, file_get_contents($this->path('to/'.$path)), $path);
        }
    }
}
