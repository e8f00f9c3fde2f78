<?php

declare(strict_types=1);

namespace Geschenk\Tests\Standin;

use Geschenk\Core\Archive\ChatSource;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Standin\Phone\HandRefused;
use Geschenk\Standin\Phone\Hands;
use Geschenk\Standin\Phone\SigningUp;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

final class HandsTest extends TestCase
{
    use Scratch;

    public function testTheWayToAnAndroidPhoneThatLetsUsIn(): void
    {
        $phone = Phones::giving(
            $this->path(),
            ['developer_options' => false, 'debugging' => false, 'admitted' => false, 'unlocked' => false],
        );
        self::assertNotContains('tap_build_number', array_column(Hands::offered($phone), 'act'));
        foreach (['unlock', 'tap_build_number', 'debugging_on', 'admit'] as $act) {
            self::assertFalse(Phones::link($phone)->state()->isOpen());
            Hands::do($phone, $act);
        }
        self::assertTrue(Phones::link($phone)->state()->isOpen());
    }

    public function testWhatIsNotOfferedCanNotBeDone(): void
    {
        $this->expectException(HandRefused::class);
        Hands::do(Phones::receiving($this->path()), 'debugging_on');
    }

    public function testAMessengerIsInstalledAndRegistered(): void
    {
        $phone = DemoMaker::fresh(
            $this->path(),
            [
                'serial' => 'FRESH0001', 'maker' => 'M', 'model' => 'N', 'platform' => 'ios', 'os_version' => '1',
                'developer_options' => false, 'debugging' => false, 'admitted' => true,
            ],
            null,
        );
        Hands::do($phone, 'install otterpost');
        self::assertNull(Phones::link($phone)->state()->app('otterpost')?->number);
        try {
            Hands::do($phone, 'register otterpost', 'twelve');
            self::fail();
        } catch (HandRefused $error) {
            self::assertStringContainsString('hand_no_number', $error->getMessage());
        }
        Hands::do($phone, 'register otterpost', '+447700900321');
        self::assertNull(Phones::link($phone)->state()->app('otterpost')?->number);
        Hands::do($phone, 'ask_text otterpost');
        Hands::do($phone, 'enter_code otterpost', SigningUp::codes($phone, time())[0]['code'] ?? '');
        self::assertSame('+447700900321', Phones::link($phone)->state()->app('otterpost')?->number);
        $chats = ChatSource::open($phone->data('otterpost'), new Formats(), true)->chats;
        self::assertSame(['+447700900321', 0], [$chats->source()->account, $chats->summary()['messages']]);
    }

    public function testTheDemonstrationIsTheSameForTheSameSeed(): void
    {
        $summary = fn (string $folder): array => ChatSource::open(
            Phones::giving($this->path($folder))->data('otterpost'), new Formats(), true,
        )->chats->summary();
        self::assertSame($summary('one'), $summary('two'));
    }

    public function testSampleFilesAreReal(): void
    {
        $folder = Phones::giving($this->path())->data('otterpost').'/parcels';
        $photos = glob($folder.'/photo/0*.jpg') ?: [];
        $voices = glob($folder.'/voice/*.wav') ?: [];
        $documents = array_filter(
            glob($folder.'/document/0*.pdf') ?: [], static fn (string $f): bool => !str_contains(basename($f), '999'),
        );
        self::assertNotEmpty($photos);
        self::assertNotEmpty($voices);
        self::assertNotEmpty($documents);
        foreach ($photos as $photo) {
            self::assertNotFalse(imagecreatefromjpeg($photo));
        }
        foreach ($voices as $voice) {
            $head = unpack('a4riff/Vsize/a4wave', (string) file_get_contents($voice, false, null, 0, 12));
            self::assertSame(['riff' => 'RIFF', 'size' => (int) filesize($voice) - 8, 'wave' => 'WAVE'], $head);
        }
        foreach ($documents as $document) {
            self::assertMatchesRegularExpression(
                '/^%PDF-1\.4.*startxref\n\d+\n%%EOF\n$/s', (string) file_get_contents($document),
            );
        }
    }
}
