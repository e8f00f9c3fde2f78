<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\SecondPlace;

use Geschenk\Core\SecondPlace\PlacedKeyring;
use Geschenk\Core\SecondPlace\PlaceFailure;
use Geschenk\Core\SecondPlace\PlaceMark;
use Geschenk\Tests\Support\FolderPlace;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** Which place it is, and the keys that lie there. */
final class PlaceMarkTest extends TestCase
{
    use Scratch;

    public function testAPlaceIsKnownByItsMark(): void
    {
        $place = new FolderPlace($this->path('place'));
        $mark = new PlaceMark($place);
        self::assertNull($mark->read());
        $mark->make('0f1e2d3c-0000-4000-8000-000000000001');
        self::assertSame('0f1e2d3c-0000-4000-8000-000000000001', $mark->read());
        file_put_contents($this->path('place/mark'), 'something else');
        $this->expectExceptionMessage('place_other');
        $mark->read();
    }

    public function testADiskThatIsNotThereIsNoPlace(): void
    {
        $place = new FolderPlace($this->path('place'));
        rename($this->path('place'), $this->path('away'));
        $this->expectExceptionMessage('place_gone');
        (new PlaceMark($place))->read();
    }

    public function testOfTheKeyringTheNewestAloneIsThere(): void
    {
        $place = new FolderPlace($this->path('place'));
        $ring = new PlacedKeyring($place);
        self::assertTrue($ring->put('first'));
        self::assertFalse($ring->put('first'));
        self::assertTrue($ring->put('second'));
        self::assertSame('second', $ring->get());
        self::assertCount(1, $place->all());
        self::assertStringNotContainsString('first', (string) file_get_contents($place->folder.'/'.$place->all()[0]));
        // One that was cut off while it was put there does not count, and the one before does.
        $place->left = 3;
        try {
            $ring->put('third');
            self::fail('It broke off.');
        } catch (PlaceFailure) {
            self::assertSame('second', $ring->get());
        }
        $place->left = null;
        self::assertTrue($ring->put('third'));
        self::assertSame('third', $ring->get());
        self::assertCount(1, $place->all());
    }
}
