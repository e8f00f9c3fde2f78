<?php

declare(strict_types=1);

namespace Geschenk\Tests\Standin;

use Geschenk\Core\Failure;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Phone\Fitness;
use Geschenk\Core\Phone\GuardedLink;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Standin\Phone\Hands;
use Geschenk\Standin\Phone\PhoneFolder;
use Geschenk\Tests\Support\Backups;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Each fault is told apart, and work goes on once it is mended; a large file in its middle. */
final class FaultsTest extends TestCase
{
    use Scratch;

    private const FILM = 12_000_000;

    /** @return iterable<string, array{string, string, string, callable(PhoneFolder): mixed}> */
    public static function faults(): iterable
    {
        $hand = static fn (string $act): callable => static fn (PhoneFolder $phone) => Hands::do($phone, $act);
        yield 'unplug' => ['unplug', 'unplugged', 'unplugged', $hand('plug')];
        yield 'lock' => ['lock', 'locked', 'locked', $hand('unlock')];
        yield 'restart' => ['restart', 'unplugged', 'restarted', $hand('unlock')];
        yield 'battery' => ['drain', 'battery_low', 'battery_low', $hand('charge')];
        yield 'withdraw' => ['withdraw', 'debugging_off', 'debugging_off', $hand('debugging_on')];
    }

    /** @param callable(PhoneFolder): mixed $mend */
    #[DataProvider('faults')]
    public function testABackupGoesOnInTheMiddleOfALargeFile(
        string $fault,
        string $first,
        string $then,
        callable $mend,
    ): void {
        $phone = $this->phoneWithFilm();
        Phones::plan($phone, ['on' => 'pull', 'do' => $fault, 'after_bytes' => 9_000_000]);
        self::assertSame($first, $this->failureOf(fn () => $this->backUp($phone)));
        self::assertSame($then, $this->failureOf(
            static fn () => Fitness::ensure(Phones::link($phone)->state(), Fitness::GOES_ON_AT, 600.0),
        ));
        $piece = $this->path('bag.part/piece.begun');
        self::assertGreaterThan(4_000_000, filesize($piece));
        $mend($phone);
        $again = ['on' => 'pull', 'do' => 'unplug', 'after_bytes' => self::FILM - 4_000_000];
        Phones::plan($phone, $again);
        $this->backUp($phone);
        self::assertSame([$again], $phone->state()['faults'], 'What had come did not travel again.');
        self::assertFileEquals($phone->data('otterpost').'/film.bin', $this->path('bag/data/raw/film.bin'));
    }

    public function testALargeFileThatChangedMeanwhileIsTakenFromItsBeginning(): void
    {
        $phone = $this->phoneWithFilm();
        Phones::plan($phone, ['on' => 'pull', 'do' => 'unplug', 'after_bytes' => 9_000_000]);
        self::assertSame('unplugged', $this->failureOf(fn () => $this->backUp($phone)));
        Phones::plug($phone);
        $film = $phone->data('otterpost').'/film.bin';
        file_put_contents($film, random_bytes(self::FILM));
        touch($film, time() - 3_000);
        $this->backUp($phone);
        self::assertFileEquals($film, $this->path('bag/data/raw/film.bin'));
    }

    public function testWhatIsNotedButNotThereIsBroughtAgain(): void
    {
        foreach ([0, 3_000_000] as $left) {
            Folder::remove($this->path('phones'));
            Folder::remove($this->path('bag'));
            $phone = $this->phoneWithFilm();
            Phones::plan($phone, ['on' => 'pull', 'do' => 'unplug', 'after_bytes' => 9_000_000]);
            self::assertSame('unplugged', $this->failureOf(fn () => $this->backUp($phone)));
            $piece = fopen($this->path('bag.part/piece.begun'), 'r+');
            self::assertIsResource($piece);
            ftruncate($piece, $left);
            Phones::plug($phone);
            $this->backUp($phone);
            self::assertFileEquals($phone->data('otterpost').'/film.bin', $this->path('bag/data/raw/film.bin'));
        }
    }

    public function testWhatOthersLeftIsNeverTakenForItsBeginning(): void
    {
        $phone = $this->phoneWithFilm();
        Phones::plan($phone, ['on' => 'pull', 'do' => 'unplug', 'after_bytes' => 9_000_000]);
        self::assertSame('unplugged', $this->failureOf(fn () => $this->backUp($phone)));
        // A small file that grew while it came, and was interrupted too.
        file_put_contents($this->path('bag.part/piece'), random_bytes(self::FILM));
        Phones::plug($phone);
        $this->backUp($phone);
        self::assertFileEquals($phone->data('otterpost').'/film.bin', $this->path('bag/data/raw/film.bin'));
        self::assertFileDoesNotExist($this->path('bag/piece'));
        self::assertFileDoesNotExist($this->path('bag/piece.begun'));
    }

    public function testAPlanByTheClockComesTrueByItself(): void
    {
        $phone = Phones::giving($this->path('phones'));
        Phones::plan($phone, ['on' => 'time', 'do' => 'lock', 'at' => time() + 1_000]);
        self::assertTrue(Phones::link($phone)->state()->unlocked);
        $phone->change(static fn (array $s): array => ['faults' => []] + $s);
        Phones::plan($phone, ['on' => 'time', 'do' => 'lock', 'at' => time() - 1]);
        self::assertFalse(Phones::link($phone)->state()->unlocked);
        self::assertSame([], $phone->state()['faults']);
    }

    private function phoneWithFilm(): PhoneFolder
    {
        $phone = Phones::giving($this->path('phones'), [], false, 20);
        file_put_contents($phone->data('otterpost').'/film.bin', random_bytes(self::FILM));
        DemoMaker::rest($phone->data('otterpost'));

        return $phone;
    }

    private function backUp(PhoneFolder $phone): void
    {
        (new Backups())->overCable(new GuardedLink(Phones::link($phone), 0.0), $this->path('bag'));
    }

    /** @param callable(): mixed $work */
    private function failureOf(callable $work): string
    {
        try {
            $work();
        } catch (Failure $failure) {
            return $failure->reason;
        }

        return '';
    }
}
