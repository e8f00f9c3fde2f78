<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Arrival;

use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Arrival\Result;
use Geschenk\Core\Arrival\Since;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

final class SinceTest extends TestCase
{
    use Scratch;

    private const SENT = [
        '+447700900002' => ['a', 'b', 'c', 'd'], '+447700900003' => ['e', 'f'], '+12025550100' => ['g', 'h'],
    ];

    public function testWhatWasMendedAndWhatCameUpIsToldByConversation(): void
    {
        $then = $this->check('then', ['+447700900002' => ['a', 'd'], '+447700900003' => ['e', 'f']] + self::SENT);
        $now = $this->check('now', [
            '+447700900002' => ['a', 'b', 'd'], '+447700900003' => ['e', 'f', 'x', 'x'],
        ] + self::SENT);
        self::assertSame([
            ['+447700900003', 'arrived', 'extra', [0, 0], [0, 2], 0, 2],
            ['+447700900002', 'missing', 'missing', [2, 1], [0, 0], 1, 0],
        ], $this->rows($then, $now));
        self::assertSame([
            ['+447700900002', 'missing', 'missing', [1, 2], [0, 0], 0, 1],
            ['+447700900003', 'extra', 'arrived', [0, 0], [2, 0], 2, 0],
        ], $this->rows($now, $then), 'The other way round it is the opposite.');
        self::assertSame([], $this->rows($now, $this->check('again', [
            '+447700900002' => ['a', 'b', 'd'], '+447700900003' => ['e', 'f', 'x', 'x'],
        ] + self::SENT)));
    }

    public function testAsManyMissingAndOthersIsNotTheSame(): void
    {
        $then = $this->check('then', ['+447700900002' => ['a', 'b', 'c']] + self::SENT);
        $now = $this->check('now', ['+447700900002' => ['b', 'c', 'd']] + self::SENT);
        self::assertSame(
            [['+447700900002', 'missing', 'missing', [1, 1], [0, 0], 1, 1]], $this->rows($then, $now),
        );
    }

    public function testAConversationThatIsGoneOrNewIsThereOnOneSideOnly(): void
    {
        $then = $this->check('then', self::SENT + ['+447700900009' => ['not asked for']]);
        $now = $this->check('now', self::SENT);
        self::assertSame(
            [['+447700900009', 'extra', null, [0, 0], [1, 0], 1, 0]], $this->rows($then, $now),
        );
    }

    public function testTheMonthsTellWhatNobodyExpected(): void
    {
        $result = $this->check('now', ['+447700900002' => ['a', 'b', 'x', 'y']] + self::SENT);
        $months = $result->months()[$result->conversations()[0]['id']];
        self::assertSame([['month' => '2023-11', 'expected' => 4, 'there' => 2, 'extra' => 2]], $months);
    }

    /** @return list<array{string|null, string|null, string|null, list<int>, list<int>, int, int}> */
    private function rows(Result $then, Result $now): array
    {
        return array_map(static fn (array $row): array => [
            $row['title'], $row['verdict_then'], $row['verdict_now'], [$row['missing_then'], $row['missing_now']],
            [$row['extra_then'], $row['extra_now']], $row['gone'], $row['came_up'],
        ], (new Since($then, $now))->conversations());
    }

    /** @param array<string, list<string>> $found texts by conversation */
    private function check(string $name, array $found): Result
    {
        return (new Comparison(
            Chats::store($this->path("$name-e.sqlite"), static fn (StoreWriter $w) => self::fill($w, self::SENT)),
            Chats::store($this->path("$name-f.sqlite"), static fn (StoreWriter $w) => self::fill($w, $found)),
        ))->run($this->path("$name.sqlite"), new NoProgress());
    }

    /** @param array<string, list<string>> $chats */
    private static function fill(StoreWriter $w, array $chats): void
    {
        foreach ([...array_keys(self::SENT), '+447700900009'] as $key) {
            $w->person(new Person($key, $key, null, null));
        }
        foreach ($chats as $key => $texts) {
            $id = $w->conversation(Chats::direct($key));
            foreach ($texts as $text) {
                $w->message($id, Chats::text($text, 1_700_000_000_000 + ord($text)));
            }
        }
    }
}
