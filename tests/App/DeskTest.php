<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Geschenk\Core\Archive\ChatSource;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Standin\Phone\PhoneFolder;
use Geschenk\Tests\Support\Phones;

/** The stand-in desk: what hands, time and bad luck do to the phones of the demonstration. */
final class DeskTest extends ApiTestCase
{
    private const DESK = '/api/standin/phones/'.Phones::GIVING;

    public function testAMishapIsPlannedForWhileItIsCopiedAndHappensThere(): void
    {
        $this->signIn();
        $n = $this->openTray();
        // What the messenger keeps for itself travels nowhere, however much it is.
        $spare = Folder::make($this->giving->data('otterpost').'/spares/2026-11-01').'/pouch.gz';
        self::assertSame(90_000_000, file_put_contents($spare, str_repeat('x', 90_000_000)));
        $planned = $this->call('POST', self::DESK.'/plan', ['fault' => 'lock', 'when' => 'copying', 'amount' => 40]);
        self::assertSame(['It locks itself when 40% is copied'], $planned['planned']);
        $this->askAndWork($n, ['kind' => 'backup']);
        self::assertStringContainsString("Phone $n-A has locked itself", $this->trouble($n));
        self::assertSame([], $this->desk()['planned']);
        $this->acts('unlock');
        $this->watch();
        $this->work();
        self::assertSame('done', $this->value($this->call('GET', "/api/trays/$n"), 'moves', 0, 'run', 'state'));
    }

    public function testAMishapIsPlannedForAMomentAndCanBeForgotten(): void
    {
        $this->signIn();
        $this->layPhones();
        $this->call('POST', self::DESK.'/plan', ['fault' => 'unplug', 'when' => 'minutes', 'amount' => 2]);
        self::assertSame(['The cable comes out in 2 minutes'], $this->desk()['planned']);
        self::assertTrue($this->giving->state()['plugged']);
        self::assertSame([], $this->call('DELETE', self::DESK.'/plan')['planned']);
        $this->call('POST', self::DESK.'/plan', ['fault' => 'unplug', 'when' => 'minutes', 'amount' => 0]);
        $this->watch();
        self::assertFalse($this->giving->state()['plugged']);
        $this->call('POST', self::DESK.'/plan', ['fault' => 'explode', 'when' => 'minutes', 'amount' => 0], 422);
        $this->call('POST', self::DESK.'/plan', ['fault' => 'lock', 'when' => 'minutes', 'amount' => 101], 422);
    }

    public function testHandsCanDoWhatTimeWouldDo(): void
    {
        $this->signIn();
        $this->layPhones();
        $this->acts('drain');
        self::assertLessThan(5, $this->giving->state()['battery']);
        $this->acts('charge');
        $before = Phones::link($this->giving)->state()->free;
        $this->acts('fill');
        self::assertLessThan(1_000_000, Phones::link($this->giving)->state()->free);
        $this->acts('tidy');
        self::assertSame($before, Phones::link($this->giving)->state()->free);
        $this->acts('restart');
        $state = Phones::link($this->giving)->state();
        self::assertSame([false, true], [$state->unlocked, $state->upFor < 60]);
    }

    public function testAMessageThatComesInIsInTheChats(): void
    {
        $this->signIn();
        $this->layPhones();
        $before = self::messages($this->giving);
        $this->acts('message_comes otterpost');
        self::assertSame($before + 1, self::messages($this->giving));
    }

    private static function messages(PhoneFolder $phone): int
    {
        return ChatSource::open($phone->data('otterpost'), new Formats(), false)
            ->chats->summary()['messages'];
    }

    private function acts(string $act): void
    {
        $this->call('POST', self::DESK.'/acts', ['act' => $act]);
    }

    private function trouble(int $tray): string
    {
        return $this->text($this->call('GET', "/api/trays/$tray"), 'moves', 0, 'run', 'trouble');
    }

    /** @return array<array-key, mixed> */
    private function desk(): array
    {
        foreach ((array) $this->call('GET', '/api/standin/phones')['phones'] as $phone) {
            self::assertIsArray($phone);
            if (Phones::GIVING === $phone['serial']) {
                return $phone;
            }
        }
        self::fail();
    }
}
