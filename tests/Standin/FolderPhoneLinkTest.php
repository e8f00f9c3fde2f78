<?php

declare(strict_types=1);

namespace Geschenk\Tests\Standin;

use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Transfer\LinkFiles;
use Geschenk\Standin\Phone\Bench;
use Geschenk\Standin\Phone\FolderPhoneLink;
use Geschenk\Standin\Phone\PhoneFolder;
use Geschenk\Tests\Support\PhoneLinkContract;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;

/** The stand-in, the first adapter behind the port, and what it promises beyond. */
class FolderPhoneLinkTest extends PhoneLinkContract
{
    use Scratch;

    protected bool $inOneStep = true;
    private PhoneFolder $phone;

    public function testAttachmentsOverTheCableAreToldApart(): void
    {
        $this->prepare(['here.jpg' => 'picture', 'empty.jpg' => '']);
        $files = new LinkFiles($this->link(), 'otterpost', true);
        $here = ['presence' => Presence::Present, 'bytes' => 7, 'sha256' => hash('sha256', 'picture')];
        self::assertSame($here, $files->look('here.jpg', 'x/unknown'));
        self::assertSame(Presence::WrongType, $files->look('here.jpg', 'image/jpeg')['presence']);
        $presence = static fn (string $path): Presence => $files->look($path, 'image/jpeg')['presence'];
        self::assertSame(
            [Presence::Empty, Presence::Missing, Presence::Refused],
            [$presence('empty.jpg'), $presence('gone.jpg'), $presence('../phone.json')],
        );
        $stream = $files->open('here.jpg');
        self::assertIsResource($stream);
        self::assertSame('picture', stream_get_contents($stream));
        self::assertNull($files->open('gone.jpg'));
        self::assertNull((new LinkFiles($this->link(), 'otterpost', false))->look('here.jpg', 'image/jpeg')['sha256']);
    }

    public function testTheBenchKnowsItsPhonesAndNoOthers(): void
    {
        $this->prepare([]);
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

    protected function prepare(array $files): void
    {
        Folder::remove($this->path('phones'));
        $this->phone = Phones::receiving($this->path('phones'));
        Folder::remove($this->phone->data(self::APP));
        Folder::make($this->phone->data(self::APP));
        foreach ($files as $path => $text) {
            $this->messengerWrites($path, $text);
        }
    }

    protected function link(): PhoneLink
    {
        return new FolderPhoneLink($this->phone, $this->inOneStep);
    }

    protected function linkElsewhere(): string
    {
        return sprintf(
            'new %s(new %s(%s), %s)',
            FolderPhoneLink::class, PhoneFolder::class, var_export(
                $this->phone->path, true,
            ), var_export($this->inOneStep, true),
        );
    }

    protected function seen(string $path): ?string
    {
        $full = $this->phone->data(self::APP).'/'.$path;
        clearstatcache();

        return is_file($full) ? (string) file_get_contents($full) : null;
    }

    protected function messengerWrites(string $path, ?string $text): void
    {
        $full = $this->phone->data(self::APP).'/'.$path;
        if (null === $text) {
            unlink($full);
        } else {
            Folder::make(dirname($full));
            file_put_contents($full, $text);
        }
    }

    protected function layLink(string $path, string $target): void
    {
        symlink($target, $this->phone->data(self::APP).'/'.$path);
    }

    protected function spoilStorage(string $path, int $bytes): void
    {
        Phones::plan($this->phone, ['on' => 'read', 'do' => 'error', 'path' => $path, 'after_bytes' => $bytes]);
    }

    protected function unplug(): void
    {
        Phones::plug($this->phone, false);
    }
}
