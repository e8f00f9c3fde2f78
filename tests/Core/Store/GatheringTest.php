<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Store;

use Eris\Generators;
use Eris\TestTrait;
use Geschenk\Core\Store\Gathering;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

final class GatheringTest extends TestCase
{
    use TestTrait;

    public function testWhateverOrderPiecesComeInEachMessageGetsItsOwnInTheirOrder(): void
    {
        $this->limitTo(30)->forAll(Generators::choose(1, 1_000_000))->then(static function (int $seed): void {
            $chance = new Randomizer(new Mt19937($seed));
            $expected = $pieces = [];
            foreach (["room \0\xFF", 'room b', ''] as $room) {
                for ($m = 0; $m < 20; ++$m) {
                    for ($step = 0, $steps = $chance->getInt(1, 4); $step < $steps; ++$step) {
                        $expected[$room][$m][] = "$room $m $step";
                        $pieces[] = [$room, "id\0".$m, 0 === $step ? 1_000 + $m : null, $step, "$room $m $step"];
                    }
                }
            }
            $gathering = new Gathering();
            foreach ($chance->shuffleArray($pieces) as $piece) {
                $gathering->add(...$piece);
            }
            $rooms = iterator_to_array($gathering->conversations(), false);
            self::assertEqualsCanonicalizing(array_keys($expected), $rooms);
            foreach ($expected as $room => $messages) {
                self::assertSame($messages, iterator_to_array($gathering->messages($room), false));
            }
        });
    }

    public function testWhatHasNoPlaceComesLastAndOfSeveralTheLeastCounts(): void
    {
        $gathering = new Gathering();
        $gathering->add('r', 'lost', null, 1, 'lost');
        $gathering->add('r', 'two', 9, 0, 'two, late');
        $gathering->add('r', 'one', 5, 0, 'one');
        $gathering->add('r', 'two', 3, 0, 'two, early');
        self::assertSame(
            [['two, late', 'two, early'], ['one'], ['lost']], iterator_to_array($gathering->messages('r'), false),
        );
        self::assertSame([], iterator_to_array($gathering->messages('nobody'), false));
        $this->expectException(\LogicException::class);
        $gathering->add('r', 'late', 1, 0, 'late');
    }
}
