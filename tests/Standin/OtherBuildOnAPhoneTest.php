<?php

declare(strict_types=1);

namespace Geschenk\Tests\Standin;

use Geschenk\Core\Archive\OpenBag;
use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Arrival\Totals;
use Geschenk\Core\Conversion\Conversion;
use Geschenk\Core\Files\Content\FolderContents;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Content\Manifest;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\Staging;
use Geschenk\Core\Platform;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Transfer\AgreedTo;
use Geschenk\Core\Transfer\PhoneChats;
use Geschenk\Core\Transfer\ReceiverSeen;
use Geschenk\Core\Transfer\RestorePermit;
use Geschenk\Core\Transfer\Restorer;
use Geschenk\Core\UnusableInput;
use Geschenk\Standin\Phone\FolderPhoneLink;
use Geschenk\Standin\Phone\PhoneFolder;
use Geschenk\Tests\Support\Backups;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Formats\Quillet\Android\AndroidFormat;
use Geschenk\Tests\Support\Formats\Quillet\Android\AndroidWriter;
use Geschenk\Tests\Support\OtherFormats;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** From one phone to another with a format that has no database, seventeen files and locked attachments. */
final class OtherBuildOnAPhoneTest extends TestCase
{
    use Scratch;

    public function testItsChatsGoFromPhoneToPhoneAndAreChecked(): void
    {
        $giving = $this->phone(Phones::GIVING, 44);
        $link = new FolderPhoneLink($giving);
        $chats = $this->backUp($link);
        $backup = new OpenBag($this->path('bag'));
        foreach ((new AndroidFormat())->chatFiles()->in($giving->data('quillet')) as $file) {
            self::assertFileEquals($giving->data('quillet').'/'.$file, $this->path('bag/data/raw/'.$file));
        }
        Folder::make($this->path('conversion'));
        $conversion = new Conversion(
            OtherFormats::all(), OtherFormats::readingApart(), $backup->chats(), $backup->files(),
            $this->path('conversion'), Platform::Android,
        );
        $converted = $conversion->run(1_795_192_800_000, [], new NoProgress());
        self::assertTrue($converted->totals->complete());

        $receiving = new FolderPhoneLink($this->phone(Phones::RECEIVING, 3));
        $this->restore($receiving);
        self::assertTrue($this->check($receiving, $chats, $conversion->expected())->complete());

        // Somebody is at the new phone: of what was locked nothing can be said by its bytes, and its loss is seen.
        unlink((glob($this->path('phones/'.Phones::RECEIVING.'/data/quillet/kept/*')) ?: self::fail())[0]);
        self::assertSame(1, $this->check($receiving, $chats, $conversion->expected())->missing);
    }

    public function testAFileThatComesWhileTheChatsArePulledBelongsToThem(): void
    {
        $phone = $this->phone(Phones::GIVING, 44);
        $shard = $phone->data('quillet').'/'.AndroidFormat::shard(9);
        $events = (string) file_get_contents($shard);
        unlink($shard);
        $isBack = false;
        (new PhoneChats(OtherFormats::all(), OtherFormats::readingApart()))->pullDatabase(
            new FolderPhoneLink($phone), 'quillet', Folder::make($this->path('pulled')),
            static function () use ($shard, $events, &$isBack): void {
                if (!$isBack) {
                    file_put_contents($shard, $events);
                    $isBack = true;
                }
            },
        );
        self::assertSame($events, file_get_contents($this->path('pulled/'.AndroidFormat::shard(9))));
        self::assertCount(17, (new AndroidFormat())->chatFiles()->in($this->path('pulled')));
    }

    public function testAnAppThatNoFormatIsOfIsNotRead(): void
    {
        $phone = $this->phone(Phones::GIVING, 44);
        rename($phone->data('quillet'), dirname($phone->data('quillet')).'/otterpost');
        $this->expectExceptionObject(UnusableInput::notMessengerData('@phone_data'));
        $this->chats()->pullDatabase(
            new FolderPhoneLink($phone), 'otterpost', $this->path('pulled'), static fn (int $bytes) => null,
        );
    }

    private function phone(string $serial, int $seed): PhoneFolder
    {
        $phone = PhoneFolder::make($this->path('phones/'.$serial), [
            'serial' => $serial, 'maker' => 'Maker', 'model' => 'Model', 'platform' => 'android', 'os_version' => '14',
            'owner' => 'Owner', 'plugged' => true, 'unlocked' => true, 'battery' => 80, 'developer_options' => true,
            'debugging' => true, 'admitted' => true, 'storage_total' => 1_000_000_000, 'storage_other' => 0,
            'cable_mb_s' => 0.0, 'faults' => [],
            'apps' => [['id' => 'quillet', 'name' => 'Quillet', 'version' => '1', 'number' => Chats::OWNER]],
        ]);
        do {
            Folder::remove($this->path($serial.'.sqlite'));
            $chats = Chats::random(++$seed, $this->path($serial.'.sqlite'), $this->path('files'), null, 'Quillet');
        } while ($chats->messageCount() < 20);
        (new AndroidWriter())->write(
            $chats, new FolderFiles($this->path('files')), $phone->data('quillet'), new NoProgress(),
        );

        return $phone;
    }

    private function backUp(PhoneLink $link): PhoneChats
    {
        (new Backups(OtherFormats::all(), OtherFormats::readingApart(), 'quillet'))->overCable(
            $link, $this->path('bag'),
        );

        return $this->chats();
    }

    private function chats(): PhoneChats
    {
        return new PhoneChats(OtherFormats::all(), OtherFormats::readingApart());
    }

    private function restore(PhoneLink $link): void
    {
        $folder = $this->path('conversion/'.Conversion::DATA);
        $data = new FolderContents($folder);
        $manifest = Manifest::make($data, $this->path('manifest.txt'), static fn (int $bytes) => null);
        $permit = RestorePermit::grant(
            new ReceiverSeen($link->mark('quillet')), new AgreedTo('T', 'T'),
            new Totals(0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0),
        );
        $staged = (new Restorer())->stage(
            $permit, new Staging($link, 'quillet', 'job'), $data, $manifest, new NoProgress(),
        );
        (new Restorer())->swapIn($permit, $staged, $link, new NoProgress());
    }

    private function check(PhoneLink $link, PhoneChats $chats, ChatStore $expected): Totals
    {
        foreach (['back.sqlite', 'result.sqlite'] as $old) {
            Folder::remove($this->path($old));
        }
        $chats->read($link, 'quillet', $this->path('back.sqlite'), true, new NoProgress());

        return (new Comparison($expected, new ChatStore($this->path('back.sqlite'))))->run(
            $this->path('result.sqlite'), new NoProgress(),
        )->totals();
    }
}
