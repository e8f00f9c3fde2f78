<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Http;

use Geschenk\App\Http\Time;
use Geschenk\App\Shop;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class TimeTest extends TestCase
{
    /** @return iterable<array{int|null, string|null}> */
    public static function times(): iterable
    {
        yield [null, null];
        yield [0, '1970-01-01T00:00:00.000Z'];
        yield [-1, '1969-12-31T23:59:59.999Z'];
        yield [-86_400_123, '1969-12-30T23:59:59.877Z'];
        yield [1_700_000_000_123, '2023-11-14T22:13:20.123Z'];
        yield [9_000_000_000_000_000, '9999-12-31T23:59:59.000Z'];
    }

    #[DataProvider('times')]
    public function testMillisecondsBecomeIso(?int $milliseconds, ?string $iso): void
    {
        self::assertSame($iso, Time::ofMilliseconds($milliseconds));
    }

    public function testATimeOfAnotherZoneIsGivenInUtc(): void
    {
        self::assertSame(
            '2026-07-01T10:00:00.000Z',
            Time::iso(new \DateTimeImmutable('2026-07-01 11:00', new \DateTimeZone('Europe/London'))),
        );
    }

    public function testTheInterfaceShowsTimesInTheZoneOfTheShop(): void
    {
        self::assertStringContainsString(
            "export const ZONE = '".Shop::ZONE."'", (string) file_get_contents(__DIR__.'/../../../web/lib/format.ts'),
        );
    }
}
