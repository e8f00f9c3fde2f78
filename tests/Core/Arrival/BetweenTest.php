<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Arrival;

use Geschenk\Core\Arrival\Between;
use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** What went, came and changed between two backups of one account, by conversation and month. */
final class BetweenTest extends TestCase
{
    use Scratch;

    /** Noon of a day in UTC. */
    private const JUNE = 1_718_452_800_000;
    private const JULY = 1_721_044_800_000;

    public function testEachMessageIsOneOfFourInItsMonth(): void
    {
        $message = static fn (string $id, int $at, string $text, DeliveryState $state): Message => new Message(
            $id, null, true, Kind::Text, $text, $at, null, $state,
        );
        $sent = static fn (string $id, int $at): Message => $message($id, $at, $id, DeliveryState::Sent);
        $between = $this->between(static function (StoreWriter $w) use ($sent): void {
            $quiet = $w->conversation(Chats::direct('+447700900001'));
            $w->message($quiet, $sent('Q1', self::JUNE));
            $busy = $w->conversation(Chats::direct('+447700900002'));
            foreach (['A' => self::JUNE, 'B' => self::JUNE, 'C' => self::JULY] as $id => $at) {
                $w->message($busy, $sent($id, $at));
            }
            $gone = $w->conversation(Chats::direct('+447700900003'));
            $w->message($gone, $sent('G1', self::JUNE));
            $w->message($gone, $sent('G2', self::JULY));
        }, static function (StoreWriter $w) use ($sent, $message): void {
            $quiet = $w->conversation(Chats::direct('+447700900001'));
            $w->message($quiet, $sent('Q1', self::JUNE));
            $busy = $w->conversation(Chats::direct('+447700900002'));
            $w->message($busy, $message('A', self::JUNE, 'A', DeliveryState::Read));
            $w->message($busy, $sent('C', self::JULY));
            $w->message($busy, $sent('D', self::JULY));
            $new = $w->conversation(Chats::direct('+447700900004'));
            $w->message($new, $sent('N1', self::JULY));
        });
        self::assertSame(['same' => 2, 'changed' => 1, 'went' => 3, 'came' => 2], $between->totals());
        [$gone, $busy, $new, $quiet] = $between->conversations();
        self::assertSame(['same' => 0, 'changed' => 0, 'went' => 2, 'came' => 0], self::fates($gone));
        self::assertSame(['same' => 1, 'changed' => 1, 'went' => 1, 'came' => 1], self::fates($busy));
        self::assertSame(['same' => 0, 'changed' => 0, 'went' => 0, 'came' => 1], self::fates($new));
        self::assertSame(['same' => 1, 'changed' => 0, 'went' => 0, 'came' => 0], self::fates($quiet));
        self::assertSame(['state' => 1], $busy['aspects']);
        self::assertSame([
            ['month' => '2024-06', 'same' => 0, 'changed' => 1, 'went' => 1, 'came' => 0],
            ['month' => '2024-07', 'same' => 1, 'changed' => 0, 'went' => 0, 'came' => 1],
        ], $busy['months']);
    }

    public function testOfTheSameChatsEverythingIsTheSame(): void
    {
        $fill = static function (StoreWriter $w): void {
            $id = $w->conversation(Chats::direct());
            foreach (['a', 'b', 'b'] as $n => $text) {
                $w->message($id, Chats::text($text, self::JUNE + $n));
            }
        };
        $between = $this->between($fill, $fill);
        self::assertSame(['same' => 3, 'changed' => 0, 'went' => 0, 'came' => 0], $between->totals());
        self::assertSame([[], []], [$between->conversations()[0]['aspects'], $between->conversations()[0]['settings']]);
    }

    /**
     * @param array<string, mixed> $row
     *
     * @return array<string, mixed>
     */
    private static function fates(array $row): array
    {
        return array_intersect_key($row, ['same' => 1, 'changed' => 1, 'went' => 1, 'came' => 1]);
    }

    /**
     * @param \Closure(StoreWriter): void $earlier
     * @param \Closure(StoreWriter): void $later
     */
    private function between(\Closure $earlier, \Closure $later): Between
    {
        $result = (new Comparison(
            Chats::store($this->path('earlier.sqlite'), $earlier), Chats::store($this->path('later.sqlite'), $later),
        ))->run($this->path('result.sqlite'), new NoProgress());

        return new Between($result->path);
    }
}
