<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Geschenk\App\DataFolder;
use Geschenk\App\Guide\Guides;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Phone\PhoneState;
use Geschenk\Core\Platform;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Psr\Log\NullLogger;
use Symfony\Component\Cache\Adapter\ArrayAdapter;

/** Guides are data: those that are shipped hold, a shop's own come first, and a bad one costs itself. */
final class GuidesTest extends TestCase
{
    private string $folder;

    protected function setUp(): void
    {
        $this->folder = sys_get_temp_dir().'/guides-'.bin2hex(random_bytes(6));
        Folder::make($this->folder.'/guides');
    }

    protected function tearDown(): void
    {
        Folder::remove($this->folder);
    }

    public function testEachThatIsShippedHolds(): void
    {
        $found = $this->guides()->check();
        self::assertGreaterThanOrEqual(6, count($found));
        self::assertSame([], array_filter($found, is_string(...)));
    }

    /** @return iterable<string, array{string, string, string, list<string>}> maker, platform, version, points */
    public static function phones(): iterable
    {
        $android = ['usb_debugging', 'computer_allowed', 'lock_timer', 'storage_allowed', 'auto_backup'];
        foreach (['Kestrelworks' => '14', 'Bergmann' => '12', 'Solhaug' => '10', 'Somebody else' => '15'] as $m => $v) {
            yield "$m $v" => [$m, 'android', $v, $android];
        }
        foreach (['15.0', '16.7.2', '17', '18.1'] as $version) {
            yield "iOS $version" => ['Lindenau', 'ios', $version, [
                'computer_allowed', 'theft_lock', 'lock_timer', 'auto_backup',
            ]];
        }
    }

    /** @param list<string> $points */
    #[DataProvider('phones')]
    public function testEachPhoneHasItsWays(string $maker, string $platform, string $version, array $points): void
    {
        foreach ($points as $point) {
            $steps = $this->guides()->of(self::phone($maker, $platform, $version))[$point] ?? null;
            self::assertNotEmpty($steps, $point);
        }
        self::assertNull($this->guides()->of(self::phone($maker, $platform, $version))['battery'] ?? null);
        self::assertNull($this->guides()->of(self::phone($maker, $platform, '1.0'))[$points[0]] ?? null);
    }

    public function testTheWaysOfMakersAndOfVersionsDiffer(): void
    {
        $first = function (string $maker, string $platform, string $version, string $point): string {
            $steps = $this->guides()->of(self::phone($maker, $platform, $version))[$point] ?? [];

            return implode(' ', array_map(static fn (array $step): string => $step['say']['en'] ?? '', $steps));
        };
        $ways = array_map(
            static fn (string $maker): string => $first($maker, 'android', '14', 'usb_debugging'),
            ['Kestrelworks', 'Bergmann', 'Solhaug', 'Somebody else'],
        );
        self::assertCount(4, array_unique($ways));
        self::assertNotSame(
            $first('Lindenau', 'ios', '16.9', 'theft_lock'), $first('Lindenau', 'ios', '17.0', 'theft_lock'),
        );
        self::assertSame($ways[0], $first('KESTRELWORKS', 'android', '14', 'usb_debugging'));
    }

    public function testAShopsOwnComesFirstAndTheOthersStay(): void
    {
        $this->lay('ours.json', $this->one('Kestrelworks', '14', '15'));
        $find = fn (string $version, string $point): string => $this->guides()
            ->of(self::phone('Kestrelworks', 'android', $version))[$point][0]['say']['en'] ?? '';
        self::assertSame('Our way.', $find('14', 'lock_timer'));
        self::assertSame('Our way.', $find('14.9', 'lock_timer'));
        self::assertNotSame('Our way.', $find('15', 'lock_timer'));
        self::assertNotSame('Our way.', $find('14', 'usb_debugging'));
        // One for all makers does not take the place of one for the maker.
        $this->lay('ours.json', ['maker' => null] + $this->one('x', '10', '99'));
        self::assertNotSame('Our way.', $find('14', 'lock_timer'));
    }

    /** @return iterable<string, array{string}> */
    public static function bad(): iterable
    {
        $good = '{"platform":"android","from":"10","points":{"lock_timer":[%s]}}';
        $step = '{"say":{"en":"Our way.","de":"Unser Weg."},"picture":{"screen":"list","row":1}}';
        yield 'nothing' => [''];
        yield 'no JSON' => ['{'];
        yield 'a list' => ['[]'];
        yield 'deep' => [str_repeat('[', 100).str_repeat(']', 100)];
        yield 'no steps' => [sprintf($good, '')];
        yield 'too many steps' => [sprintf($good, implode(',', array_fill(0, 10, $step)))];
        yield 'one language' => [sprintf($good, str_replace(',"de":"Unser Weg."', '', $step))];
        yield 'a line that is not there' => [sprintf($good, str_replace('"row":1', '"row":8', $step))];
        yield 'a picture of its own' => [sprintf($good, str_replace('"list"', '"<script>"', $step))];
        yield 'an unknown point' => [str_replace('lock_timer', 'everything', sprintf($good, $step))];
        yield 'no version' => [str_replace('"10"', '"ten"', sprintf($good, $step))];
        yield 'more than it should' => [str_replace('{"platform"', '{"run":"rm","platform"', sprintf($good, $step))];
        yield 'huge' => [sprintf($good, $step).str_repeat(' ', 300_000)];
    }

    #[DataProvider('bad')]
    public function testABadOneCostsItselfAndIsNamed(string $text): void
    {
        file_put_contents($this->folder.'/guides/bad.json', $text);
        $this->lay('good.json', $this->one('Kestrelworks', '10', '99'));
        $found = $this->guides()->check();
        self::assertIsString($found[$this->folder.'/guides/bad.json']);
        self::assertNull($found[$this->folder.'/guides/good.json']);
        $steps = $this->guides()->of(self::phone('Kestrelworks', 'android', '14'))['lock_timer'] ?? null;
        self::assertSame('Our way.', $steps[0]['say']['en'] ?? '');
    }

    public function testAFileThatChangesIsReadAnew(): void
    {
        $guides = $this->guides();
        $phone = self::phone('Kestrelworks', 'android', '14');
        $shipped = $guides->of($phone)['lock_timer'] ?? null;
        $this->lay('ours.json', $this->one('Kestrelworks', '10', '99'));
        self::assertNotSame($shipped, $guides->of($phone)['lock_timer'] ?? null);
        unlink($this->folder.'/guides/ours.json');
        clearstatcache();
        self::assertSame($shipped, $guides->of($phone)['lock_timer'] ?? null);
    }

    private function guides(): Guides
    {
        return new Guides(dirname(__DIR__, 2), new DataFolder($this->folder), new ArrayAdapter(), new NullLogger());
    }

    /** @return array<string, mixed> */
    private function one(string $maker, string $from, string $below): array
    {
        return [
            'platform' => 'android', 'maker' => $maker, 'from' => $from, 'below' => $below,
            'points' => ['lock_timer' => [[
                'say' => ['en' => 'Our way.', 'de' => 'Unser Weg.'], 'picture' => ['screen' => 'list', 'row' => 1],
            ]]],
        ];
    }

    /** @param array<string, mixed> $guide */
    private function lay(string $name, array $guide): void
    {
        $guide = array_filter($guide, static fn (mixed $value): bool => null !== $value);
        file_put_contents($this->folder.'/guides/'.$name, json_encode($guide, \JSON_THROW_ON_ERROR));
        clearstatcache();
    }

    private static function phone(string $maker, string $platform, string $version): PhoneState
    {
        return new PhoneState(
            'S', $maker, 'M', Platform::from($platform), $version, true, true, 80, true, true, 1, [],
        );
    }
}
