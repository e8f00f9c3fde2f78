<?php

declare(strict_types=1);

namespace Geschenk\Tests\Standin;

use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\ReadingHere;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Transfer\Offer;
use Geschenk\Core\Transfer\PhoneChats;
use Geschenk\Core\Transfer\Taking;
use Geschenk\Core\UnusableInput;
use Geschenk\Core\WayIn\Cable\CableWay;
use Geschenk\Core\WayIn\LocalBackup\LocalBackupWay;
use Geschenk\Core\WayIn\Ways;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Standin\Phone\IncomingMessage;
use Geschenk\Standin\Phone\LocalBackupsOnPhone;
use Geschenk\Standin\Phone\PhoneFolder;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** What the ways in have of an account on a phone, all of them together. */
final class WaysTest extends TestCase
{
    use Scratch;

    private const APP = 'otterpost';
    private PhoneFolder $phone;
    private Ways $ways;

    protected function setUp(): void
    {
        $this->phone = Phones::giving($this->path('phones'), [], false, 12);
        $formats = new Formats();
        $reading = new ReadingHere($formats);
        $chats = new PhoneChats($formats, $reading);
        // In whatever order they are found.
        $this->ways = new Ways([new LocalBackupWay($chats, $reading, $formats), new CableWay($chats)]);
    }

    public function testWhatIsOfNowComesFirstAndThenTheNewest(): void
    {
        $this->offers('cable');
        LocalBackupsOnPhone::make($this->phone, self::APP, true, 1_795_000_000);
        LocalBackupsOnPhone::make($this->phone, self::APP, true, 1_795_090_000);
        $made = 'local_backup/spares/2026-11-1';
        $this->offers('cable', $made.'9T12-06-40Z/pouch.gz', $made.'8T11-06-40Z/pouch.gz');
        array_map(unlink(...), glob($this->phone->data(self::APP).'/pouch.db*') ?: []);
        $this->offers($made.'9T12-06-40Z/pouch.gz', $made.'8T11-06-40Z/pouch.gz');
    }

    public function testAGlanceDiffersOnceAnyOfThemDoesAndTellsWhatTheChatsTake(): void
    {
        DemoMaker::rest($this->phone->data(self::APP));
        $link = Phones::link($this->phone);
        $before = $this->ways->glance($link, self::APP);
        self::assertEquals($before, $this->ways->glance($link, self::APP));
        $files = glob($this->phone->data(self::APP).'/pouch.db*') ?: [];
        self::assertSame(array_sum(array_map(filesize(...), $files)), $before->chatBytes);
        self::assertGreaterThan(0, $before->changedAt);
        LocalBackupsOnPhone::make($this->phone, self::APP, true, 1_795_000_000);
        $withOwn = $this->ways->glance($link, self::APP);
        self::assertNotEquals($before->marks, $withOwn->marks);
        self::assertSame([$before->changedAt, $before->chatBytes], [$withOwn->changedAt, $withOwn->chatBytes]);
        IncomingMessage::comes($this->phone, self::APP);
        self::assertNotEquals($withOwn->marks, $this->ways->glance($link, self::APP)->marks);
        array_map(unlink(...), glob($this->phone->data(self::APP).'/pouch.db*') ?: []);
        $packed = $this->ways->glance($link, self::APP);
        $own = glob($this->phone->data(self::APP).'/spares/*/pouch.gz') ?: [];
        self::assertSame([0, 2 * (int) filesize($own[0] ?? '')], [$packed->changedAt, $packed->chatBytes]);
    }

    public function testEachIsLookedIntoByItsOwnWayAndBringsWhatItSays(): void
    {
        LocalBackupsOnPhone::make($this->phone, self::APP, true, 1_795_000_000);
        DemoMaker::rest($this->phone->data(self::APP));
        $link = Phones::link($this->phone);
        $counts = [];
        foreach ($this->ways->offers($link, self::APP) as $n => $offer) {
            $taking = new Taking($link, self::APP, $offer);
            $this->ways->of($offer)->lookInto($taking, $this->path("chats-$n.sqlite"), new NoProgress());
            $counts[$offer->way] = (new ChatStore($this->path("chats-$n.sqlite")))->messageCount();
            self::assertGreaterThan($offer->bytes, $this->ways->of($offer)->bytes($taking));
        }
        self::assertSame(['cable', 'local_backup'], array_keys($counts));
        self::assertSame($counts['cable'], $counts['local_backup']);
    }

    public function testOnlyWhereItsMessengerBacksItselfUpOneMoreCanBeMade(): void
    {
        $android = Phones::link($this->phone)->state();
        $ios = Phones::link(Phones::receiving($this->path('phones')))->state();
        self::assertSame(['local_backup'], $this->ways->thatCanBeMade($android, self::APP));
        self::assertSame([], $this->ways->thatCanBeMade($ios, self::APP));
        self::assertSame([], $this->ways->thatCanBeMade($android, 'another'));
    }

    public function testAWayThatIsThereNoMoreIsSaid(): void
    {
        self::assertNull($this->ways->named('by_courier'));
        $this->expectException(UnusableInput::class);
        $this->expectExceptionMessage('no_such_way_in');
        $this->ways->of(new Offer('by_courier'));
    }

    public function testAnOfferIsTheSameBehindItsRecord(): void
    {
        LocalBackupsOnPhone::make($this->phone, self::APP, true, 1_795_000_000);
        foreach ($this->ways->offers(Phones::link($this->phone), self::APP) as $offer) {
            self::assertEquals($offer, Offer::of($offer->told()));
        }
    }

    private function offers(string ...$ids): void
    {
        self::assertSame($ids, array_map(
            static fn (Offer $offer): string => $offer->id(),
            $this->ways->offers(Phones::link($this->phone), self::APP),
        ));
    }
}
