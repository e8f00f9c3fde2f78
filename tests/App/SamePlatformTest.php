<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Geschenk\App\DataFolder;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Standin\Phone\PhoneFolder;
use Geschenk\Tests\Support\Phones;
use PHPUnit\Framework\Attributes\DataProvider;

/** From a phone to another one of its platform: the same way, the same proof, and hardly a loss. */
final class SamePlatformTest extends ApiTestCase
{
    private const ANDROID = [
        'platform' => 'android', 'os_version' => '14', 'developer_options' => true, 'debugging' => true,
    ];
    private const IOS = ['platform' => 'ios', 'os_version' => '18', 'developer_options' => false, 'debugging' => false];

    /** @return iterable<string, array{array<string, mixed>}> */
    public static function platforms(): iterable
    {
        yield 'Android' => [self::ANDROID];
        yield 'iOS' => [self::IOS];
    }

    /** @param array<string, mixed> $platform */
    #[DataProvider('platforms')]
    public function testAnAccountMovesBetweenTwoPhonesOfOnePlatform(array $platform): void
    {
        $this->signIn();
        if (self::ANDROID === $platform) {
            $this->layPhones();
            $folder = dirname($this->giving->path);
        } else {
            $folder = $this->iosThatGives();
        }
        exec('rm -rf '.escapeshellarg($folder.'/'.Phones::RECEIVING));
        $this->receiving = Phones::receiving($folder, $platform);
        DemoMaker::rest($this->receiving->data('otterpost'));
        $before = Phones::fingerprint($this->giving->data('otterpost'));
        $n = $this->openTray(laid: true);
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $tray = $this->call('GET', "/api/trays/$n");
        self::assertTrue($this->value($tray, 'moves', 0, 'checks', 0, 'totals', 'complete'));
        self::assertGreaterThan(50, $this->value($tray, 'moves', 0, 'checks', 0, 'totals', 'arrived'));
        self::assertSame($before, Phones::fingerprint($this->giving->data('otterpost')));
        $this->handOver($n);
    }

    /** An Android phone's chats are brought onto an iOS phone, which then gives. */
    private function iosThatGives(): string
    {
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $this->handOver($n);
        $folder = self::getContainer()->get(DataFolder::class)->phones();
        $gives = $folder.'/'.Phones::GIVING;
        exec('rm -rf '.escapeshellarg($gives));
        self::assertTrue(rename($folder.'/'.Phones::RECEIVING, $gives));
        $this->giving = new PhoneFolder($gives);
        $this->giving->change(static fn (array $s): array => ['serial' => Phones::GIVING] + $s);
        DemoMaker::rest($this->giving->data('otterpost'));

        return $folder;
    }
}
