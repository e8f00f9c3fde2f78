<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Contacts;

use Geschenk\App\Contacts\AddressBook;
use Geschenk\Core\Chat\Person;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

final class AddressBookTest extends TestCase
{
    private const OWNER = '+447700900001';

    /** @return iterable<string, array{string, bool}> what is there; whether +44 7700 900123 is in it */
    public static function books(): iterable
    {
        $card = static fn (string $lines): string => "BEGIN:VCARD\r\nVERSION:3.0\r\nFN:Ada\r\n$lines\r\nEND:VCARD\r\n";
        yield 'as it is written abroad' => [$card('TEL;TYPE=CELL:+44 7700 900123'), true];
        yield 'as it is written at home' => [$card('TEL:07700 900-123'), true];
        yield 'as a link' => [$card('TEL;VALUE=uri:tel:+44-7700-900123'), true];
        yield 'behind another' => [$card("TEL:+12025550100\r\nitem1.TEL:+447700900123"), true];
        yield 'broken over two lines' => [$card("TEL;TYPE=CELL:+44770\r\n 0900123"), true];
        yield 'with line ends of another kind' => ["begin:vcard\nVERSION:2.1\nTEL;CELL:07700900123\nend:vcard\n", true];
        yield 'behind one that never ends' => ["BEGIN:VCARD\r\nFN:x\r\n".$card('TEL:+447700900123'), true];
        yield 'in what never ends itself' => ["BEGIN:VCARD\r\nVERSION:3.0\r\nTEL:+447700900123\r\n", false];
        yield 'another number' => [$card('TEL:+447700900124'), false];
        yield 'of another country' => [$card('TEL:+49 7700 900123'), false];
        yield 'in a note' => [$card('NOTE:+447700900123'), false];
        yield 'no card' => ["TEL:+447700900123\0\xFF", false];
        yield 'nothing' => ['', false];
    }

    #[DataProvider('books')]
    public function testWhoIsThereIsNotAddedAndWhatIsThereStays(string $text, bool $isThere): void
    {
        $book = new AddressBook($text, self::OWNER);
        $book->add(new Person('k', '+447700900123', 'Ada Lantern', null));
        self::assertSame([(int) !$isThere, (int) $isThere], [$book->counts()['brought'], $book->counts()['there']]);
        self::assertSame(0, strncmp($text, $book->text(), strlen($text)));
        self::assertSame($isThere, $text === $book->text());
        // Brought twice, nothing is there twice.
        $again = new AddressBook($book->text(), self::OWNER);
        $again->add(new Person('k', '+447700900123', 'Ada Lantern', null));
        self::assertSame($book->text(), $again->text());
    }

    public function testANameIsTheAddressBooksElseTheirOwnAndNeverAnythingElse(): void
    {
        $book = new AddressBook('', self::OWNER);
        $book->add(new Person('a', '+447700900101', 'From; the, book', 'Own', false, ['020 7946 0958']));
        $book->add(new Person('b', '+447700900102', null, "Own\r\nEND:VCARD\r\nBEGIN:VCARD"));
        $book->add(new Person('c', '+447700900103', null, " \u{200B}\n"));
        $book->add(new Person('d', null, 'A handle only', null));
        $book->add(new Person('e', '+447700900101', 'The same number', null));
        self::assertSame(['brought' => 2, 'there' => 1, 'nameless' => 1, 'unreadable' => 0], $book->counts());
        $text = $book->text();
        self::assertStringContainsString('FN:From\; the\, book', $text);
        self::assertStringContainsString('+442079460958', $text);
        self::assertSame(2, preg_match_all('/^BEGIN:VCARD\r$/m', $text), 'A name makes no card of its own.');
        self::assertStringContainsString('FN:Own END:VCARD BEGIN:VCARD', $text);
        self::assertStringNotContainsString('same number', $text);
    }

    public function testANumberOfAHouseholdIsNobodysOwn(): void
    {
        $home = '+442079460958';
        $book = new AddressBook("BEGIN:VCARD\r\nVERSION:3.0\r\nFN:Home\r\nTEL:$home\r\nEND:VCARD\r\n", self::OWNER);
        $book->add(new Person('a', '+447700900101', 'Ada', null, false, ['020 7946 0958']));
        $book->add(new Person('b', '+447700900102', 'Bo', null, false, [$home, '+447700900101']));
        $book->add(new Person('c', '+447700900101', 'Ada once more', null));
        self::assertSame([2, 1], [$book->counts()['brought'], $book->counts()['there']]);
        self::assertStringContainsString('FN:Bo', $book->text());
        self::assertSame(2, substr_count($book->text(), 'TEL;TYPE=CELL:'), 'What a further number is nobody has said.');
    }

    public function testWhatIsBrokenCostsItselfIsCountedAndStays(): void
    {
        $broken = "BEGIN:VCARD\r\n:::\xFF\r\n;;;=\r\nEND:VCARD\r\n";
        $huge = "BEGIN:VCARD\r\nVERSION:3.0\r\nPHOTO:".str_repeat('A', 4_000_001)."\r\nEND:VCARD\r\n";
        $fine = "BEGIN:VCARD\r\nVERSION:3.0\r\nTEL:+447700900123\r\nEND:VCARD";
        $book = new AddressBook($broken.$huge.$fine, self::OWNER);
        $book->add(new Person('k', '+447700900123', 'Ada', null));
        $book->add(new Person('l', '+447700900124', 'Bo', null));
        self::assertSame([1, 1], [$book->counts()['brought'], $book->counts()['there']]);
        self::assertGreaterThan(0, $book->counts()['unreadable']);
        self::assertStringStartsWith($broken.$huge.$fine."\r\nBEGIN:VCARD", $book->text());
    }

    public function testACardThatMeansHarmCostsItselfAndNoMemory(): void
    {
        $fine = "BEGIN:VCARD\r\nVERSION:3.0\r\nTEL:+447700900123\r\nEND:VCARD\r\n";
        $before = memory_get_peak_usage();
        $book = new AddressBook(
            "BEGIN:VCARD\n".str_repeat("A:\n", 500_000)."END:VCARD\n"
                ."BEGIN:VCARD\nVERSION:2.1\nTEL;CHARSET=NOPE;ENCODING=QUOTED-PRINTABLE:=3\nEND:VCARD\n"
                ."BEGIN:VCARD\nVERSION:3.0\nTEL;TYPE=".str_repeat('X,', 90_000).":1\nEND:VCARD\n".$fine,
            self::OWNER,
        );
        $book->add(new Person('k', '+447700900123', 'Ada', null));
        self::assertSame(1, $book->counts()['there'], 'The one behind them is read.');
        self::assertLessThan(60_000_000, memory_get_peak_usage() - $before);
    }

    /** Whatever is there and whoever comes: all is kept, each number is there once, and twice changes nothing. */
    public function testAnyBookAndAnyPeople(): void
    {
        for ($seed = 0; $seed < 60; ++$seed) {
            $chance = new Randomizer(new Mt19937($seed));
            $text = '';
            for ($i = $chance->getInt(0, 12); $i > 0; --$i) {
                $text .= match ($chance->getInt(0, 3)) {
                    0 => $chance->getBytes(40),
                    1 => "BEGIN:VCARD\r\nVERSION:4.0\r\nTEL:+4477009001".$chance->getInt(10, 30)."\r\nEND:VCARD\r\n",
                    2 => "BEGIN:VCARD\n".self::letters($chance)."\nEND:VCARD\n",
                    default => "\r\n",
                };
            }
            $people = [];
            for ($i = 0; $i < 15; ++$i) {
                $number = '+4477009001'.$chance->getInt(10, 30);
                $people[] = new Person("k$i", $number, $chance->getBytes(9), 0 === $i % 3 ? null : 'Own');
            }
            $book = new AddressBook($text, self::OWNER);
            array_map($book->add(...), $people);
            self::assertSame(0, strncmp($text, $book->text(), strlen($text)), "seed $seed");
            $again = new AddressBook($book->text(), self::OWNER);
            array_map($again->add(...), $people);
            self::assertSame($book->text(), $again->text(), "seed $seed");
            self::assertSame(0, $again->counts()['brought'], "seed $seed");
        }
    }

    /** What means something in a card, in no order. */
    private static function letters(Randomizer $chance): string
    {
        $letters = '';
        for ($i = 0; $i < 60; ++$i) {
            $letters .= "TEL:;=\"\\+47\r\n "[$chance->getInt(0, 13)];
        }

        return $letters;
    }
}
