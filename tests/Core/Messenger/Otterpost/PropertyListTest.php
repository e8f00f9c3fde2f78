<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger\Otterpost;

use Eris\Generators;
use Eris\TestTrait;
use Geschenk\Core\Messenger\Otterpost\Ios\PropertyList;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class PropertyListTest extends TestCase
{
    use TestTrait;

    public function testAnyBytesComeBack(): void
    {
        $this->limitTo(300)->forAll(Generators::string(), Generators::int(), Generators::float())->then(static function (string $text, int $number, float $real): void {
            $value = ['text' => $text, 'bytes' => $text."\xFF\0", 'number' => $number, 'real' => $real, 'list' => [$text, ['in' => true, 'out' => false]], 'empty' => ''];
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
        yield 'unknown element' => ['<plist><dict><key>a</key><script>x</script></dict></plist>'];
        yield 'too deep' => ['<plist>'.str_repeat('<array>', 40).str_repeat('</array>', 40).'</plist>'];
    }

    #[DataProvider('hostile')]
    public function testWhatIsNoListIsRefused(string $xml): void
    {
        $this->expectException(\UnexpectedValueException::class);
        PropertyList::read($xml);
    }

    /** The quick way of reading gives what the XML reader would, or leaves it to that; damage is an error and never a crash. */
    public function testRandomDamage(): void
    {
        $good = PropertyList::write(['nods' => [['who' => '+447700900001~stream', 'sign' => '👍', 'given' => 1.5]], 'text' => 'a & <b>', 'n' => 7, 'deep' => ['x' => ['y' => true]], 'raw' => "\0\xFF"]);
        $chance = new \Random\Randomizer(new \Random\Engine\Mt19937(3));
        $read = 0;
        for ($n = 0; $n < 2_000; ++$n) {
            $xml = substr_replace($good, $chance->getBytes($chance->getInt(1, 6)), $chance->getInt(0, strlen($good) - 1), $chance->getInt(0, 9));
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
        $spaced = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<!-- made elsewhere -->\n<plist version=\"1.0\">\n <dict>\n  <key>a</key>\n  <string><![CDATA[<x>]]></string>\n  <key>b</key>\n  <array><integer>4</integer><true/></array>\n </dict>\n</plist>";
        self::assertSame(['a' => '<x>', 'b' => [4, true]], PropertyList::read($spaced));
    }

    public function testEntitiesAreNotSubstituted(): void
    {
        $xml = '<?xml version="1.0"?><!DOCTYPE p [<!ENTITY e SYSTEM "file:///etc/hostname"><!ENTITY a "xxxxxxxxxx"><!ENTITY b "&a;&a;&a;&a;">]><plist><dict><key>k</key><string>[&e;&b;]</string></dict></plist>';
        self::assertSame(['k' => '[]'], PropertyList::read($xml));
    }
}
