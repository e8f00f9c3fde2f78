<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Messenger\ChatFiles;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

final class ChatFilesTest extends TestCase
{
    use Scratch;

    public function testNamedOnesAreJustThose(): void
    {
        $files = new ChatFiles('a.db', 'a.db-wal');
        self::assertSame(['a.db', 'a.db-wal'], $files->named());
        self::assertSame(['a.db', 'a.db-wal'], $files->among(['x', 'a.db-wal', 'a.db', 'kept/a.db']));
        self::assertSame([], $files->among(['a.db-wal']), 'a log alone is no database');
        self::assertSame(
            [true, false, false], array_map($files->hold(...), ['a.db', 'A.db', 'kept/a.db']),
        );
    }

    public function testPatternsStayWithinTheirFolderAndKeepTheOrderInWhichToPull(): void
    {
        $files = new ChatFiles('shards/*.db', 'shards/*.db-wal');
        self::assertNull($files->named());
        self::assertSame(
            ['shards/1.db', 'shards/2.db', 'shards/1.db-wal'],
            $files->among(['shards/1.db-wal', 'shards/2.db', 'kept/3.db', 'shards/deep/4.db', 'shards/1.db']),
        );
        self::assertFalse($files->hold('shards/.hidden.db'));
        self::assertFalse($files->hold('shards/../1.db'));
    }

    public function testAFolderOfAnyNameIsLookedInto(): void
    {
        $folder = Folder::make($this->path('odd [a-z]* \\ {x}'));
        Folder::make($folder.'/shards/1.db-folder');
        foreach (['shards/1.db', 'shards/1.db-wal', 'shards/picture.jpg', '1.db'] as $name) {
            file_put_contents($folder.'/'.$name, 'x');
        }
        self::assertSame(
            ['shards/1.db', 'shards/1.db-wal'], (new ChatFiles('shards/*.db', 'shards/*.db-*'))->in($folder),
        );
        self::assertSame([], (new ChatFiles('shards/*.db'))->in($folder.'/nowhere'));
    }
}
