<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Files;

use Geschenk\Core\Files\Content\FileType;
use Geschenk\Core\Files\Durable\SafeName;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class SafeNameTest extends TestCase
{
    /** @return iterable<string, array{string|null, string}> */
    public static function names(): iterable
    {
        yield 'nothing' => [null, ''];
        yield 'plain' => ['Minutes 2024.pdf', 'minutes-2024'];
        yield 'reserved signs' => ['Cards: north/south?*.pdf', 'cards-north-south'];
        yield 'a way out' => ['../../etc/passwd', 'etc-passwd'];
        yield 'decomposed' => ["Gro\u{308}\u{DF}enliste.ods", "gr\u{F6}\u{DF}enliste"];
        yield 'another script' => ['Πρακτικά.txt', 'πρακτικά'];
        yield 'broken bytes' => ["a\xFFb.txt", 'a-b'];
        yield 'only dots' => ['...', ''];
        yield 'NUL' => ["a\0b", 'a-b'];
    }

    #[DataProvider('names')]
    public function testNames(?string $shown, string $safe): void
    {
        self::assertSame($safe, SafeName::of($shown));
    }

    public function testLongNamesAreCutBetweenCharacters(): void
    {
        $name = SafeName::of(str_repeat('ü', 300).'.pdf');
        self::assertLessThanOrEqual(80, strlen($name));
        self::assertTrue(mb_check_encoding($name, 'UTF-8'));
    }

    public function testTypesAreToldByTheirBeginning(): void
    {
        self::assertTrue(FileType::contradicts('image/jpeg', '%PDF-1.4 and so on'));
        self::assertFalse(FileType::contradicts('image/jpeg', "\xFF\xD8\xFF\xE0"));
        self::assertFalse(FileType::contradicts('text/plain', 'whatever'));
        self::assertTrue(FileType::contradicts('audio/wav', 'RIFFxxxxWEBP'));
    }
}
