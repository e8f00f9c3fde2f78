<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Bench;

use Geschenk\App\Bench\MountedSticks;
use Geschenk\Core\Stick\Stick;
use Geschenk\Core\Stick\StickHindrance;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** A stick is what this computer has mounted, and nothing that only lies where sticks do. */
final class MountedSticksTest extends TestCase
{
    use Scratch;

    public function testAFolderThatIsNoFileSystemOfItsOwnIsNone(): void
    {
        mkdir($this->path('plain'));
        symlink('/', $this->path('link'));
        $sticks = new MountedSticks($this->path());
        self::assertSame([], $sticks->there());
        self::assertSame([], (new MountedSticks(''))->there());
        self::assertNull((new MountedSticks(''))->find(bin2hex('plain')));
        $plain = $sticks->find(bin2hex('plain')) ?? self::fail('It is a name.');
        self::assertFalse($plain->isThere());
        $this->expectException(StickHindrance::class);
        $plain->folder();
    }

    public function testWhatIsMountedIsThere(): void
    {
        $own = @stat('/dev/shm');
        if (false === $own || $own['dev'] === (stat('/dev')['dev'] ?? null)) {
            self::markTestSkipped('Nothing is mounted at /dev/shm here.');
        }
        $labels = array_map(static fn (Stick $stick): string => $stick->label(), (new MountedSticks('/dev'))->there());
        self::assertContains('shm', $labels);
        $stick = (new MountedSticks('/dev'))->find(bin2hex('shm')) ?? self::fail('It is there.');
        self::assertSame(['/dev/shm', true], [$stick->folder(), $stick->freeBytes() > 0]);
    }

    public function testAnIdThatLeadsElsewhereIsNone(): void
    {
        foreach (['', 'xyz', '2e', bin2hex('..'), bin2hex('a/b'), bin2hex("a\0b"), str_repeat('61', 41), 'A1'] as $id) {
            self::assertNull((new MountedSticks('/dev'))->find($id), $id);
        }
    }
}
