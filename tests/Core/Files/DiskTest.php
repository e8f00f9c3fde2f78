<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Files;

use Geschenk\Core\Failure;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
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
        self::assertTrue(Disk::hasRoom($this->path('none')), 'Where nothing can be written, room is not what lacks.');
    }

    /** Not every disk says at a write that it is full, and PHP does not say why a sync failed. */
    #[DataProvider('syncs')]
    public function testASyncThatFindsNoRoomIsCalledThat(string $error, string $when, string $expected): void
    {
        $code = sprintf(
            'require %s; try { %s::put(%s, "x"); echo "put"; } catch (%s $e) { echo $e->reason; }',
            var_export(dirname(__DIR__, 3).'/vendor/autoload.php', true), Disk::class,
            var_export($this->path('a'), true), Failure::class,
        );
        exec(sprintf(
            'strace -f -qq -o /dev/null -e trace=fsync -e inject=fsync:error=%s:when=%s %s -r %s',
            $error, $when, escapeshellarg(\PHP_BINARY), escapeshellarg($code),
        ), $said);
        self::assertSame([$expected], $said);
        self::assertSame('put' === $expected ? ['.', '..', 'a'] : ['.', '..', 'a.part'], scandir($this->path()));
    }

    /** @return iterable<string, array{string, string, string}> */
    public static function syncs(): iterable
    {
        yield 'full' => ['ENOSPC', '1+', 'disk_full'];
        yield 'full for a moment' => ['ENOSPC', '1..2', 'disk_full'];
        yield 'a quota' => ['EDQUOT', '1+', 'disk_full'];
        yield 'spoilt' => ['EIO', '1+', 'disk_failure'];
        yield 'spoilt later' => ['EIO', '3+', 'put'];
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
