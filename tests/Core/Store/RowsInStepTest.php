<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Store;

use Geschenk\Core\Store\RowsInStep;
use PHPUnit\Framework\TestCase;

final class RowsInStepTest extends TestCase
{
    public function testEachMessageTakesItsOwnRowsAndNoMoreAreReadThanItTakes(): void
    {
        /** @var \ArrayObject<int, int> $read */
        $read = new \ArrayObject();
        $rows = new RowsInStep((function () use ($read): \Generator {
            foreach ([[2, 'a'], [2, 'b'], [5, 'c'], [7, 'd'], [9, 'e']] as $row) {
                $read->append(1);
                yield $row;
            }
        })());

        self::assertSame([], $rows->of(1));
        self::assertSame([['a'], ['b']], $rows->of(2));
        self::assertCount(3, $read);
        self::assertSame([], $rows->of(2), 'they were taken already');
        self::assertSame([], $rows->of(3));
        self::assertSame([['d']], $rows->of(7), 'those of a message that nobody asked for are passed over');
        self::assertSame([['e']], $rows->of(9));
        self::assertSame([], $rows->of(10));
    }
}
