<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Store;

use Geschenk\Core\Store\LongestOrder;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

final class LongestOrderTest extends TestCase
{
    public function testNoneLieOutsideOfNothing(): void
    {
        self::assertSame([], (new LongestOrder())->outside());
    }

    /** Held against every way to leave some out. */
    public function testWhatStaysInsideStandsInOrderAndNoMoreCouldStay(): void
    {
        $chance = new Randomizer(new Mt19937(5));
        for ($round = 0; $round < 300; ++$round) {
            $count = $chance->getInt(1, 8);
            $places = array_slice($chance->shuffleArray(range(1, 12)), 0, $count);
            $order = new LongestOrder();
            foreach ($places as $n => $place) {
                $order->add(100 + $n, $place);
            }
            $outside = $order->outside();
            $inside = array_diff(range(100, 99 + $count), $outside);
            self::assertTrue(
                self::isInOrder(array_map(static fn (int $id): int => $places[$id - 100], $inside)), "round $round",
            );
            self::assertSame($outside, array_values(array_unique($outside)));
            self::assertCount(self::longest($places), $inside, "round $round: ".implode(' ', $places));
        }
    }

    /** @param array<int> $places */
    private static function isInOrder(array $places): bool
    {
        $sorted = $places;
        sort($sorted);

        return array_values($places) === $sorted;
    }

    /** @param list<int> $places */
    private static function longest(array $places): int
    {
        $longest = 0;
        for ($choice = 0; $choice < 1 << count($places); ++$choice) {
            $taken = array_filter(
                $places, static fn (int $n): bool => 0 !== ($choice >> $n & 1), \ARRAY_FILTER_USE_KEY,
            );
            $longest = self::isInOrder($taken) ? max($longest, count($taken)) : $longest;
        }

        return $longest;
    }
}
