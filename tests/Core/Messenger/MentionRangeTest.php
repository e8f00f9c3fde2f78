<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger;

use Eris\Generators;
use Eris\TestTrait;
use Geschenk\Core\Messenger\MentionRange;
use PHPUnit\Framework\TestCase;

final class MentionRangeTest extends TestCase
{
    use TestTrait;

    public function testBytesAndUnits(): void
    {
        // é is two bytes and one unit, 🐝 four bytes and two units.
        self::assertSame([1, 2], MentionRange::toUnits('é🐝x', 2, 4));
        self::assertSame([2, 4], MentionRange::toBytes('é🐝x', 1, 2));
        self::assertNull(MentionRange::toUnits('é🐝x', 1, 2));
        self::assertNull(MentionRange::toBytes('é🐝x', 2, 1));
        self::assertNull(MentionRange::toUnits('abc', 2, 5));
        self::assertNull(MentionRange::toUnits('abc', -1, 1));
        self::assertNull(MentionRange::toUnits('abc', 1, 0));
        self::assertNull(MentionRange::toBytes('abc', \PHP_INT_MAX, 1));
        self::assertSame([3, 1], MentionRange::toUnits("ab\xFFc", 3, 1));
    }

    public function testWhateverMapsMapsBack(): void
    {
        $this->limitTo(400)->forAll(
            Generators::string(), Generators::choose(0, 12), Generators::choose(1, 12),
        )->then(static function (string $text, int $start, int $length): void {
            $text .= 'ü🐝'.$text;
            $units = MentionRange::toUnits($text, $start, $length);
            if (null !== $units) {
                self::assertSame([$start, $length], MentionRange::toBytes($text, $units[0], $units[1]));
            }
            self::assertSame(strlen(mb_convert_encoding('ü🐝', 'UTF-16LE', 'UTF-8')) / 2, 3);
        });
    }
}
