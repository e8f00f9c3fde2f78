<?php

declare(strict_types=1);

namespace Geschenk\Tests\Standin;

use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Files\Folder;
use Geschenk\Core\Phone\LinkFiles;
use Geschenk\Core\Phone\PhoneFile;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Standin\Phone\Bench;
use Geschenk\Standin\Phone\PhoneFolder;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What the port promises, held against the stand-in behind it. */
final class FolderPhoneLinkTest extends TestCase
{
    use Scratch;

    public function testFilesArePulledAndHashedInOnePass(): void
    {
        $phone = $this->phone(['note.txt' => 'hello', 'sub/deep/x.bin' => str_repeat('x', 200_000)]);
        $link = Phones::link($phone);
        self::assertSame(['note.txt', 'sub/deep/x.bin'], array_map(static fn (PhoneFile $f): string => $f->path, [...$link->files('otterpost')]));
        $sink = $this->memory();
        $steps = [];
        $pulled = $link->pull('otterpost', 'sub/deep/x.bin', $sink, static function (int $n) use (&$steps): void { $steps[] = $n; });
        self::assertSame(['bytes' => 200_000, 'sha256' => hash('sha256', str_repeat('x', 200_000))], $pulled);
        self::assertSame(200_000, array_sum($steps));
        self::assertGreaterThan(1, count($steps));
    }

    /** @return iterable<string, array{string}> */
    public static function outside(): iterable
    {
        foreach (['../../phone.json', '/etc/hostname', 'sub/../../../phone.json', 'link'] as $path) {
            yield $path => [$path];
        }
    }

    #[DataProvider('outside')]
    public function testNoPathLeadsOutOfTheApp(string $path): void
    {
        $phone = $this->phone(['note.txt' => 'hello']);
        symlink('/etc/hostname', $phone->data('otterpost').'/link');
        self::assertNull(Phones::link($phone)->file('otterpost', $path));
        $this->expectException(PhoneRefuses::class);
        Phones::link($phone)->pull('otterpost', $path, $this->memory(), static fn (int $n) => null);
    }

    public function testAnAppIsNamedByItsIdAlone(): void
    {
        $this->expectException(PhoneRefuses::class);
        Phones::link($this->phone([]))->file('../data/otterpost', 'note.txt');
    }

    public function testWhatIsPushedIsStagedUnseenByTheMessengerAndSwappedInAsAWhole(): void
    {
        $phone = $this->phone(['old.txt' => 'old']);
        $link = Phones::link($phone);
        foreach (['new.txt' => 'new', 'sub/more.txt' => 'more'] as $path => $text) {
            $link->push('otterpost', 'job', $path, $this->memory($text), static fn (int $n) => null);
        }
        self::assertSame('old', file_get_contents($phone->data('otterpost').'/old.txt'));
        self::assertFileDoesNotExist($phone->data('otterpost').'/new.txt');
        self::assertSame(hash('sha256', 'more'), $link->stagedHash('otterpost', 'job', 'sub/more.txt'));
        self::assertNull($link->stagedHash('otterpost', 'job', 'sub/none.txt'));
        self::assertNull($link->stagedHash('otterpost', 'job', '../../../phone.json'));
        $link->swap('otterpost', 'job', $link->mark('otterpost'));
        $link->swap('otterpost', 'job', 'whatever it is by now');
        self::assertSame('job', $link->swapped('otterpost'));
        self::assertSame('new', file_get_contents($phone->data('otterpost').'/new.txt'));
        self::assertFileDoesNotExist($phone->data('otterpost').'/old.txt');
    }

    public function testAStageThatIsDroppedLeavesThePhoneAsItWas(): void
    {
        $phone = $this->phone(['old.txt' => 'old']);
        $link = Phones::link($phone);
        $link->push('otterpost', 'job', 'new.txt', $this->memory('new'), static fn (int $n) => null);
        $link->dropStage('otterpost', 'job');
        try {
            $link->swap('otterpost', 'job', $link->mark('otterpost'));
            self::fail('There was nothing to put in place.');
        } catch (PhoneRefuses $refusal) {
            self::assertStringContainsString('brought again', $refusal->getMessage());
        }
        self::assertNull($link->swapped('otterpost'));
        self::assertSame('old', file_get_contents($phone->data('otterpost').'/old.txt'));
    }

    public function testNothingIsPushedOutOfTheStage(): void
    {
        $this->expectException(\InvalidArgumentException::class);
        Phones::link($this->phone([]))->push('otterpost', 'job', '../escape.txt', $this->memory('x'), static fn (int $n) => null);
    }

    public function testAnUnpluggedPhoneShowsNothingAndSaysWhy(): void
    {
        $phone = $this->phone(['note.txt' => 'hello']);
        Phones::plug($phone, false);
        $state = Phones::link($phone)->state();
        self::assertSame([false, null, null, null], [$state->plugged, $state->battery, $state->free, $state->apps]);
        $this->expectException(PhoneUnplugged::class);
        Phones::link($phone)->file('otterpost', 'note.txt');
    }

    public function testFreeSpaceCountsWhatIsStaged(): void
    {
        $phone = $this->phone(['note.txt' => 'hello']);
        $before = Phones::link($phone)->state()->free;
        Phones::link($phone)->push('otterpost', 'job', 'new.bin', $this->memory(str_repeat('x', 10_000)), static fn (int $n) => null);
        self::assertSame($before - 10_000, Phones::link($phone)->state()->free);
    }

    public function testAttachmentsOverTheCableAreToldApart(): void
    {
        $phone = $this->phone(['here.jpg' => 'picture', 'empty.jpg' => '']);
        $files = new LinkFiles(Phones::link($phone), 'otterpost', true);
        self::assertSame(['presence' => Presence::Present, 'bytes' => 7, 'sha256' => hash('sha256', 'picture')], $files->look('here.jpg', 'x/unknown'));
        self::assertSame(Presence::WrongType, $files->look('here.jpg', 'image/jpeg')['presence']);
        self::assertSame([Presence::Empty, Presence::Missing, Presence::Refused], [$files->look('empty.jpg', 'image/jpeg')['presence'], $files->look('gone.jpg', 'image/jpeg')['presence'], $files->look('../phone.json', 'image/jpeg')['presence']]);
        $stream = $files->open('here.jpg');
        self::assertIsResource($stream);
        self::assertSame('picture', stream_get_contents($stream));
        self::assertNull($files->open('gone.jpg'));
        self::assertNull((new LinkFiles(Phones::link($phone), 'otterpost', false))->look('here.jpg', 'image/jpeg')['sha256']);
    }

    public function testTheBenchKnowsItsPhonesAndNoOthers(): void
    {
        $this->phone([]);
        $bench = new Bench($this->path('phones'));
        self::assertSame([Phones::RECEIVING], $bench->serials());
        self::assertSame(Phones::RECEIVING, $bench->link(Phones::RECEIVING)->serial());
        foreach (['NOPHONE01', '../phones', ''] as $serial) {
            try {
                $bench->link($serial);
                self::fail($serial);
            } catch (PhoneUnplugged) {
                $this->addToAssertionCount(1);
            }
        }
    }

    /** @param array<string, string> $files */
    private function phone(array $files): PhoneFolder
    {
        $phone = Phones::receiving($this->path('phones'));
        Folder::remove($phone->data('otterpost'));
        mkdir($phone->data('otterpost'));
        foreach ($files as $path => $text) {
            Folder::make(dirname($phone->data('otterpost').'/'.$path));
            file_put_contents($phone->data('otterpost').'/'.$path, $text);
        }

        return $phone;
    }

    /** @return resource */
    private function memory(string $text = ''): mixed
    {
        $stream = fopen('php://memory', 'w+');
        self::assertIsResource($stream);
        fwrite($stream, $text);
        rewind($stream);

        return $stream;
    }
}
