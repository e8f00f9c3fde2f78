<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Files;

use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Locked\Cipher;
use Geschenk\Core\Files\Locked\ContentKey;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** What is put elsewhere: a copy, or the same file under two names where nobody writes into either. */
final class PutTest extends TestCase
{
    use Scratch;

    protected function setUp(): void
    {
        Folder::make($this->path('from/parcels'));
        file_put_contents($this->path('from/parcels/one'), 'the first bytes');
    }

    public function testItIsTheSameFileOnlyWhereThatWasAskedFor(): void
    {
        $inode = fileinode($this->path('from/parcels/one'));
        self::assertTrue((new FolderFiles($this->path('from')))->put('parcels/one', $this->path('copy')));
        self::assertTrue($this->linking()->put('parcels/one', $this->path('link')));
        self::assertNotSame($inode, fileinode($this->path('copy')));
        self::assertSame($inode, fileinode($this->path('link')));
        self::assertFileEquals($this->path('from/parcels/one'), $this->path('copy'));
    }

    public function testWhatLiesUnderTheNameIsNeverWrittenInto(): void
    {
        $this->linking()->put('parcels/one', $this->path('to'));
        file_put_contents($this->path('from/other'), 'something else');
        // Both ways, and over a link of each kind: the file that has the name first stays as it is.
        foreach ([true, false] as $mayLink) {
            (new FolderFiles($this->path('from'), mayLink: $mayLink))->put('other', $this->path('to'));
            self::assertSame('something else', file_get_contents($this->path('to')));
            self::assertSame('the first bytes', file_get_contents($this->path('from/parcels/one')));
            unlink($this->path('to'));
            symlink($this->path('from/parcels/one'), $this->path('to'));
        }
    }

    public function testNoLinkIsMadeOfALinkOrOfWhatLiesOutside(): void
    {
        file_put_contents($this->path('secret'), 'somebody’s own');
        symlink($this->path('secret'), $this->path('from/way-out'));
        symlink($this->path('from/parcels/one'), $this->path('from/way-in'));
        self::assertFalse($this->linking()->put('way-out', $this->path('to')));
        self::assertFalse($this->linking()->put('../secret', $this->path('to')));
        self::assertFalse($this->linking()->put('parcels/none', $this->path('to')));
        self::assertFileDoesNotExist($this->path('to'));
        self::assertTrue($this->linking()->put('way-in', $this->path('to')));
        self::assertNotSame(fileinode($this->path('from/parcels/one')), fileinode($this->path('to')));
    }

    public function testWhatItsKeyDoesNotOpenIsNotPut(): void
    {
        $key = new ContentKey(Cipher::cases()[0], str_repeat("\x07", 32));
        // No content of that key: nothing is put, and no link to what is locked.
        self::assertFalse($this->linking()->put('parcels/one', $this->path('to'), null, $key));
        self::assertFileDoesNotExist($this->path('to'));
    }

    private function linking(): FolderFiles
    {
        return new FolderFiles($this->path('from'), mayLink: true);
    }
}
