<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Files;

use Geschenk\Core\Files\Disk;
use Geschenk\Core\Files\DiskFailure;
use Geschenk\Core\Files\DiskFull;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

final class DiskTest extends TestCase
{
    use Scratch;

    public function testAWriteThatFindsNoRoomIsCalledThat(): void
    {
        $stream = Disk::open('/dev/full', 'w');
        try {
            Disk::write($stream, 'x', 'the bag');
            Disk::finish($stream, 'the bag');
            self::fail('There was room.');
        } catch (DiskFull $full) {
            self::assertSame('the bag', $full->fields['path']);
            self::assertStringContainsString('disk_full', $full->getMessage());
        }
    }

    public function testWhetherThereIsRoomIsTriedAndNothingIsLeft(): void
    {
        self::assertTrue(Disk::hasRoom($this->path()));
        self::assertSame(['.', '..'], scandir($this->path()));
    }

    public function testWhatIsPutIsThereAsAWholeAndReplacesWhatWas(): void
    {
        Disk::put($this->path('a'), 'one');
        Disk::put($this->path('a'), 'another');
        self::assertSame(['another', ['.', '..', 'a']], [Disk::contents($this->path('a')), scandir($this->path())]);
        self::assertSame(hash('sha256', 'another'), Disk::sha256($this->path('a')));
    }

    public function testWhatCanNotBeReadOrMovedIsAFailureThatNamesIt(): void
    {
        foreach ([
            fn () => Disk::contents($this->path('none')), fn () => Disk::sha256($this->path('none')),
            fn () => Disk::move($this->path('none'), $this->path('other')),
        ] as $act) {
            try {
                $act();
                self::fail('It was there.');
            } catch (DiskFailure $failure) {
                self::assertMatchesRegularExpression('#/(none|other)#', $failure->getMessage());
            }
        }
    }
}
