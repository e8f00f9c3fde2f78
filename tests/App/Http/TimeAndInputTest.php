<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Http;

use Geschenk\App\Http\Input;
use Geschenk\App\Http\Time;
use Geschenk\App\Refusal;
use Geschenk\App\Shop;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\HttpFoundation\Request;

final class TimeAndInputTest extends TestCase
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

    public function testABodyIsReadByType(): void
    {
        $input = $this->input('{"name":"  Ada  ","n":1.5,"yes":true,"no":"true","empty":" "}');
        self::assertSame('Ada', $input->text('name'));
        self::assertSame(1.5, $input->number('n'));
        self::assertTrue($input->flag('yes'));
        self::assertFalse($input->flag('no'));
        self::assertNull($input->optionalText('empty'));
        self::assertNull($input->optionalText('absent'));
    }

    /** @return iterable<string, array{string, callable(Input): mixed}> */
    public static function refused(): iterable
    {
        yield 'no JSON' => ['hello', static fn (Input $i): string => $i->text('a')];
        yield 'no object' => ['"a"', static fn (Input $i): string => $i->text('a')];
        yield 'nested too deeply' => [
            str_repeat('[', 20).str_repeat(']', 20), static fn (Input $i): string => $i->text('a'),
        ];
        yield 'absent' => ['{}', static fn (Input $i): string => $i->text('a')];
        yield 'blank' => ['{"a":"  "}', static fn (Input $i): string => $i->text('a')];
        yield 'a list' => ['{"a":["x"]}', static fn (Input $i): string => $i->text('a')];
        yield 'too long' => ['{"a":"xxxx"}', static fn (Input $i): string => $i->text('a', 3)];
        yield 'no number' => ['{"a":"7"}', static fn (Input $i): float => $i->number('a')];
    }

    /** @param callable(Input): mixed $read */
    #[DataProvider('refused')]
    public function testWhatIsWrongIsSaid(string $body, callable $read): void
    {
        $this->expectException(Refusal::class);
        $read($this->input($body));
    }

    private function input(string $body): Input
    {
        return Input::of(Request::create('/', 'POST', content: $body));
    }
}
