<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger;

use Eris\Generators;
use Eris\TestTrait;
use Geschenk\Core\Messenger\Since2001;
use PHPUnit\Framework\TestCase;

final class Since2001Test extends TestCase
{
    use TestTrait;

    public function testAMillisecondSurvivesThereAndBack(): void
    {
        $this->limitTo(2_000)->forAll(
            Generators::choose(-300_000_000_000_000, 300_000_000_000_000),
        )->then(static function (int $ms): void {
            self::assertSame($ms, Since2001::toMilliseconds(Since2001::toSeconds($ms)));
        });
    }

    public function testKnownTimes(): void
    {
        self::assertSame(0.0, Since2001::toSeconds(978_307_200_000));
        self::assertSame(0, Since2001::toMilliseconds(-978_307_200.0));
        self::assertNull(Since2001::toSeconds(null));
    }
}
