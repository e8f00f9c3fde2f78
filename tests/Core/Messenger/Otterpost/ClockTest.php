<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger\Otterpost;

use Eris\Generators;
use Eris\TestTrait;
use Geschenk\Core\Messenger\Otterpost\Ios\Clock;
use PHPUnit\Framework\TestCase;

final class ClockTest extends TestCase
{
    use TestTrait;

    public function testAMillisecondSurvivesThereAndBack(): void
    {
        $this->limitTo(2_000)->forAll(
            Generators::choose(-300_000_000_000_000, 300_000_000_000_000),
        )->then(static function (int $ms): void {
            self::assertSame($ms, Clock::toMilliseconds(Clock::toSeconds($ms)));
        });
    }

    public function testKnownTimes(): void
    {
        self::assertSame(0.0, Clock::toSeconds(978_307_200_000));
        self::assertSame(0, Clock::toMilliseconds(-978_307_200.0));
        self::assertNull(Clock::toSeconds(null));
    }
}
