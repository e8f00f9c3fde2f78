<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Files;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class ScratchFolderTest extends TestCase
{
    use Scratch;

    public function testWhatKilledProcessesLeftIsSweptAndNothingElse(): void
    {
        $own = ScratchFolder::make();
        self::assertSame(0o700, fileperms($own->path) & 0o777);
        $dead = sys_get_temp_dir().'/geschenk-4194999-0123456789abcdef';
        $foreign = sys_get_temp_dir().'/geschenk-notes-of-somebody';
        $elsewhere = $this->path('memory').'/geschenk-4194999-0123456789abcdef';
        foreach ([$dead, $foreign, $elsewhere] as $folder) {
            mkdir($folder, recursive: true);
            touch($folder.'/foreign.db');
        }
        ScratchFolder::sweep();
        self::assertDirectoryExists($elsewhere, 'Whoever has another place says so.');
        ScratchFolder::sweep($this->path('memory'));
        self::assertDirectoryDoesNotExist($elsewhere);
        self::assertDirectoryExists($own->path);
        self::assertDirectoryDoesNotExist($dead);
        self::assertDirectoryExists($foreign);
        Folder::remove($foreign);
    }

    public function testWhatOthersPutThereIsNotGoneThrough(): void
    {
        mkdir($this->path('kept'));
        touch($this->path('kept/file'));
        $link = sys_get_temp_dir().'/geschenk-4194998-0123456789abcdef';
        symlink($this->path('kept'), $link);
        $theirs = sys_get_temp_dir().'/geschenk-4194997-0123456789abcdef';
        mkdir($theirs);
        // Only root can give something away: elsewhere this one is ours, and goes.
        $isGivenAway = 0 === posix_geteuid() && chown($theirs, 65_534);
        ScratchFolder::sweep();
        self::assertFileExists($this->path('kept/file'));
        self::assertSame($isGivenAway, is_dir($theirs));
        Folder::remove($theirs);
        Folder::remove($link);
    }

    public function testWhatIsKnownToBeLittleIsInMemoryAndGoesWithItsObject(): void
    {
        [$disk, $memory] = ScratchFolder::places();
        $large = ScratchFolder::make(10_000_000_000);
        self::assertStringStartsWith($disk.'/', $large->path);
        $little = ScratchFolder::make(1_000);
        self::assertStringStartsWith((is_writable($memory) ? $memory : $disk).'/', $little->path);
        self::assertSame(0o700, fileperms($little->path) & 0o777);
        $path = $little->path;
        unset($little);
        self::assertDirectoryDoesNotExist($path);
    }

    public function testRemovingNeverFollowsALink(): void
    {
        mkdir($this->path('kept'));
        touch($this->path('kept/file'));
        mkdir($this->path('gone'));
        symlink($this->path('kept'), $this->path('gone/link'));
        Folder::remove($this->path('gone'));
        self::assertFileExists($this->path('kept/file'));
        self::assertDirectoryDoesNotExist($this->path('gone'));
    }

    /** @return iterable<string, array{string, bool}> */
    public static function paths(): iterable
    {
        foreach (['a', 'a/b.c', 'ä/…', 'a..b', '...'] as $path) {
            yield $path => [$path, true];
        }
        foreach (['', '.', '..', '/a', 'a/../b', 'a//b', "a\0b", 'a\\b', 'a/.', '../a'] as $path) {
            yield 'not '.$path => [$path, false];
        }
    }

    #[DataProvider('paths')]
    public function testPathsThatStayInside(string $path, bool $inside): void
    {
        self::assertSame($inside, Folder::staysInside($path));
    }
}
