<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Contacts;

use Geschenk\App\Contacts\AddressBook;
use Geschenk\App\Contacts\BookApart;
use Geschenk\App\Contacts\KeptBook;
use Geschenk\Core\Archive\FolderTagFiles;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Messenger\BeyondLimits;
use Geschenk\Core\Messenger\ReadingLimits;
use Geschenk\Core\UnusableInput;
use PHPUnit\Framework\TestCase;

/** What an address book was before names came to it, and how they are taken out of it again. */
final class KeptBookTest extends TestCase
{
    private const OWNER = '+447700900001';

    private ScratchFolder $folder;

    protected function setUp(): void
    {
        $this->folder = ScratchFolder::make();
    }

    public function testWhatWasAddedIsTakenOutAndNothingElse(): void
    {
        for ($seed = 1; $seed <= 60; ++$seed) {
            mt_srand($seed);
            $before = self::theirs(mt_rand(0, 5)).['', "\r\n", 'BEGIN:VCARD', "BEGIN:VCARD\nFN:Half"][mt_rand(0, 3)];
            $before = 0 === mt_rand(0, 3) ? rtrim($before) : $before;
            $added = self::added($before, mt_rand(1, 6));
            $kept = KeptBook::keep($this->beside((string) $seed), $before, $added);
            $joined = KeptBook::joined($before, $added);
            self::assertSame($before, $kept->without($joined)['text'], "seed $seed");
            self::assertSame(0, $kept->without($joined)['stay']);
            $again = $kept->without($before);
            self::assertSame([$before, 0], [$again['text'], $again['stay']], 'Twice is as once.');

            // Somebody adds a card in front, among those that were added, or behind.
            $cards = preg_split('/(?=BEGIN:VCARD)/', $added, flags: \PREG_SPLIT_NO_EMPTY) ?: [];
            $new = self::theirs(1);
            $place = mt_rand(0, count($cards));
            array_splice($cards, $place, 0, [$new]);
            $without = $kept->without(KeptBook::joined($before, implode('', $cards)));
            self::assertSame(KeptBook::joined($before, $new), $without['text'], "seed $seed");
            self::assertSame([count($cards) - 1, 0], [$without['taken'], $without['stay']]);
        }
        mt_srand();
    }

    public function testWhomAnotherAccountShowsStaysAndGoesWithThatOne(): void
    {
        for ($seed = 1; $seed <= 60; ++$seed) {
            mt_srand($seed);
            [$one, $other] = [$this->beside((string) $seed), $this->beside($seed.'-other')];
            $before = self::theirs(mt_rand(0, 3));
            $first = KeptBook::keep($one, $before, self::added($before, mt_rand(1, 6)));
            $text = KeptBook::joined($before, $first->added);
            // The other account knows some of these people by names of its own, and some more.
            $knows = self::added('', mt_rand(1, 8), ' by the other');
            $theirs = KeptBook::among($first->added, $knows);
            $isLater = 1 === mt_rand(0, 1);
            if ($isLater) {
                $more = self::added($text, 8, ' by the other');
                KeptBook::keep($other, $text, $more);
                $text = KeptBook::joined($text, $more);
            }
            ['text' => $left, 'taken' => $taken, 'needed' => $needed] = $first->without($text, $knows);
            self::assertSame($theirs, $needed, "seed $seed");
            $count = static fn (string $cards): int => substr_count($cards, 'BEGIN:VCARD');
            self::assertSame(min($count($first->added), $count($knows)), $count($theirs));
            self::assertSame($count($first->added) - $count($theirs), $taken);
            self::assertSame($count($text) - $taken, $count($left));
            $second = KeptBook::takeOver($other, $first->without($text)['text'], $needed);
            self::assertEquals($second, KeptBook::takeOver($other, 'written to since', $needed), 'Twice is as once.');
            self::assertSame([$left, $needed], array_values(array_intersect_key(
                $first->without($left, $knows), ['text' => 0, 'needed' => 0],
            )));
            self::assertSame($before, $second->without($left)['text'], "seed $seed");
        }
        mt_srand();
    }

    public function testWhoeverWasInterruptedAndFindsTheBookWrittenToKeepsWhatItWasAtFirst(): void
    {
        $before = self::theirs(2);
        $added = self::added($before, 3);
        KeptBook::keep($this->beside(), $before, $added);
        $later = self::theirs(1).KeptBook::joined($before, substr($added, 0, (int) strpos($added, 'BEGIN', 9)));
        $more = substr($added, (int) strpos($added, 'BEGIN', 9));
        $kept = KeptBook::keep($this->beside(), $later, $more);
        self::assertSame([$before, $added], [$kept->before, $kept->added]);
        $read = KeptBook::of($this->beside());
        self::assertSame([$before, $added], [$read?->before, $read?->added]);
        self::assertNull(KeptBook::of($this->beside('nowhere')));
    }

    public function testWhatWasKeptAndIsNotAsItWasWrittenIsNotPutBack(): void
    {
        $path = $this->folder->path;
        $kept = KeptBook::keep($this->beside(), self::theirs(2), self::added('', 3));
        // Whoever is interrupted before the list is there has kept what was kept before.
        file_put_contents($path.'/address-book/'.str_repeat('0', 64).'.vcf', 'of another');
        self::assertEquals($kept, KeptBook::of($this->beside()));
        KeptBook::keep($this->beside(), $kept->before, $kept->added);
        self::assertCount(2, glob($path.'/address-book/*.vcf') ?: [], 'Nothing else lies there.');
        $list = (string) file_get_contents($path.'/address-book/manifest-sha256.txt');
        $harms = [
            'address-book/'.hash('sha256', $kept->added).'.vcf' => 'something else',
            'address-book/manifest-sha256.txt' => substr($list, 0, 70), 'address-book/'.hash(
                'sha256', $kept->before,
            ).'.vcf' => null,
        ];
        foreach ($harms as $name => $harm) {
            $whole = (string) file_get_contents($path.'/'.$name);
            null === $harm ? unlink($path.'/'.$name) : file_put_contents($path.'/'.$name, $harm);
            try {
                KeptBook::of($this->beside());
                self::fail($name);
            } catch (UnusableInput $broken) {
                self::assertSame('backup_broken', $broken->reason);
            }
            file_put_contents($path.'/'.$name, $whole);
        }
    }

    public function testItIsReadInAProcessOfItsOwnWithinLimits(): void
    {
        $script = dirname(__DIR__, 3).'/bin/read-address-book';
        $people = [new Person('one', '+12025550101', 'One', null), new Person('two', '+12025550102', null, null)];
        $there = "BEGIN:VCARD\r\nVERSION:3.0\r\nFN:Home\r\nTEL:+12025550100\r\nEND:VCARD\r\n";
        $book = new AddressBook($there, self::OWNER);
        array_map($book->add(...), $people);
        self::assertSame(
            ['added' => $book->added(), 'counts' => $book->counts()],
            (new BookApart($script))->add($there, $people, self::OWNER),
        );
        self::assertSame(1, $book->counts()['nameless']);
        $this->expectException(BeyondLimits::class);
        $limits = new ReadingLimits(1, 60, 500_000_000, 1_000_000);
        (new BookApart($script, $limits))->add(str_repeat($there, 200_000), $people, self::OWNER);
    }

    private static function theirs(int $count): string
    {
        $cards = '';
        for ($n = 0; $n < $count; ++$n) {
            $end = ["\r\n", "\n"][mt_rand(0, 1)];
            $cards .= implode($end, [
                'BEGIN:VCARD', 'VERSION:3.0', 'FN:Somebody '.mt_rand(), 'TEL:+1202'.mt_rand(1_000_000, 9_999_999),
                'END:VCARD', '',
            ]);
        }

        return $cards;
    }

    private static function added(string $before, int $count, string $by = ''): string
    {
        $book = new AddressBook($before, self::OWNER);
        for ($n = 0; $n < $count; ++$n) {
            $book->add(new Person((string) $n, '+4477009001'.(10 + $n), 'Person '.$n.$by, null));
        }

        return $book->added();
    }

    private function beside(string $bag = '.'): FolderTagFiles
    {
        return new FolderTagFiles($this->folder->path.'/'.$bag, KeptBook::FOLDER);
    }
}
