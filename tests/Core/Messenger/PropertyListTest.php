<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger;

use Eris\Generators;
use Eris\TestTrait;
use Geschenk\Core\Messenger\PropertyList;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class PropertyListTest extends TestCase
{
    use TestTrait;

    public function testAnyBytesComeBack(): void
    {
        $this->limitTo(300)->forAll(
            Generators::string(), Generators::int(), Generators::float(),
        )->then(static function (string $text, int $number, float $real): void {
            $value = [
                'text' => $text, 'bytes' => $text."\xFF\0", 'number' => $number, 'real' => $real,
                'list' => [$text, ['in' => true, 'out' => false]], 'empty' => '',
            ];
            self::assertSame($value, PropertyList::read(PropertyList::write($value)));
        });
    }

    public function testWhitespaceAndMarkupComeBack(): void
    {
        $value = ['a' => "  \r\n\t ", 'b' => '<key>&amp;</key>', 'c' => "\u{1F41D}", 'k&<' => 'v'];
        self::assertSame($value, PropertyList::read(PropertyList::write($value)));
    }

    /** @return iterable<string, array{string}> */
    public static function hostile(): iterable
    {
        yield 'empty' => [''];
        yield 'no xml' => ['hello'];
        yield 'cut' => [substr(PropertyList::write(['a' => ['b' => 'c']]), 0, -30)];
        yield 'nothing in it' => ['<plist></plist>'];
        yield 'a scalar' => ['<plist><string>x</string></plist>'];
        yield 'too deep' => ['<plist>'.str_repeat('<array>', 40).str_repeat('</array>', 40).'</plist>'];
    }

    #[DataProvider('hostile')]
    public function testWhatIsNoListIsRefused(string $xml): void
    {
        $this->expectException(\UnexpectedValueException::class);
        PropertyList::read($xml);
    }

    /**
     * The quick way of reading gives what the XML reader would, or leaves it to that; damage is an error and never a
     * crash.
     */
    public function testRandomDamage(): void
    {
        $good = PropertyList::write(
            [
                'nods' => [['who' => '+447700900001~stream', 'sign' => '👍', 'given' => 1.5]], 'text' => 'a & <b>',
                'n' => 7, 'deep' => ['x' => ['y' => true]], 'raw' => "\0\xFF",
            ],
        );
        $chance = new \Random\Randomizer(new \Random\Engine\Mt19937(3));
        $read = 0;
        for ($n = 0; $n < 2_000; ++$n) {
            $xml = substr_replace(
                $good, $chance->getBytes($chance->getInt(1, 6)), $chance->getInt(0, strlen($good) - 1),
                $chance->getInt(0, 9),
            );
            try {
                PropertyList::read($xml);
                ++$read;
            } catch (\UnexpectedValueException $error) {
                self::assertNotSame('', $error->getMessage());
            }
        }
        self::assertGreaterThan(0, $read);
    }

    public function testListsThatOthersWroteAreReadToo(): void
    {
        $spaced = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<!-- made elsewhere -->\n<plist version=\"1.0\">\n "
            ."<dict>\n  <key>a</key>\n  <string><![CDATA[<x>]]></string>\n  <key>b</key>\n  "
            ."<array><integer>4</integer><true/></array>\n </dict>\n</plist>";
        self::assertSame(['a' => '<x>', 'b' => [4, true]], PropertyList::read($spaced));
    }

    public function testEntitiesAreNotSubstituted(): void
    {
        $xml = '<?xml version="1.0"?><!DOCTYPE p [<!ENTITY e SYSTEM "file:///etc/hostname"><!ENTITY a '
            .'"xxxxxxxxxx"><!ENTITY b '
            .'"&a;&a;&a;&a;">]><plist><dict><key>k</key><string>[&e;&b;]</string></dict></plist>';
        $unreadable = [];
        self::assertSame(['k' => null], PropertyList::read($xml, $unreadable));
        self::assertSame(['k'], array_keys($unreadable), 'A text with a hole in it is no text.');
    }

    /**
     * @return iterable<string, array{
     *     string, array<string, mixed>, list<string>,
     * }> inside of a dictionary, what is read, and what is listed
     */
    public static function oddValues(): iterable
    {
        yield 'no Base64' => [
            '<key>a</key><data>@@@</data><key>b</key><string>x</string>', ['a' => null, 'b' => 'x'], ['a'],
        ];
        yield 'an unknown element' => [
            '<key>a</key><date>2026-11-26</date><key>b</key><true/>', ['a' => null, 'b' => true], ['a'],
        ];
        yield 'a number that is none' => [
            '<key>a</key><integer>four</integer><key>b</key><real>1e9999x</real>', ['a' => null, 'b' => null],
            ['a', 'b'],
        ];
        yield 'deep inside' => [
            '<key>a</key><array><dict><key>c</key><data>!</data></dict></array>', ['a' => [['c' => null]]], ['a.0.c'],
        ];
        yield 'a value without a key' => [
            '<string>x</string><key>b</key><true/>', ['b' => true], ['value without a key'],
        ];
    }

    /**
     * @param array<string, mixed> $read
     * @param list<string>         $listed
     */
    #[DataProvider('oddValues')]
    public function testAnOddValueCostsItselfAndIsListed(string $inside, array $read, array $listed): void
    {
        $unreadable = [];
        self::assertSame($read, PropertyList::read('<plist><dict>'.$inside.'</dict></plist>', $unreadable));
        self::assertSame($listed, array_keys($unreadable));
    }

    public function testADocumentTypeAndALongTextAreReadToo(): void
    {
        $long = str_repeat('x', 12_000_000);
        $xml = '<?xml version="1.0"?><!DOCTYPE plist PUBLIC "-//Nobody//DTD 1.0//EN" '
            .'"http://example.invalid/p.dtd"><plist version="1.0"><dict><key>a</key><string>'.$long
                .'</string></dict></plist>';
        self::assertSame(['a' => $long], PropertyList::read($xml));
    }
}
