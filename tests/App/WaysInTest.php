<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Geschenk\Core\Sqlite\Database;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Standin\Phone\HandRefused;
use Geschenk\Standin\Phone\Hands;
use Geschenk\Standin\Phone\IncomingMessage;
use Geschenk\Standin\Phone\LocalBackupsOnPhone;

/** The ways in that a technician chooses among: over the cable, or out of what the messenger backed up of itself. */
final class WaysInTest extends ApiTestCase
{
    private const KEY = '0f1e2d3c 4b5a6978 8796a5b4 c3d2e1f0 0f1e2d3c 4b5a6978 8796a5b4 c3d2e1f0';

    public function testEachWayInHasItsAgeItsSizeAndWhatItHolds(): void
    {
        $this->signIn();
        $this->layPhones();
        $newest = $this->newestOnPhone();
        $dayBefore = $newest - 86_400_000;
        LocalBackupsOnPhone::make($this->giving, 'otterpost', false, intdiv($dayBefore, 1000), $dayBefore);
        DemoMaker::lockBackups($this->giving, 'otterpost', self::KEY);
        LocalBackupsOnPhone::make($this->giving, 'otterpost', true, intdiv($newest, 1000) - 60);
        $this->openTray(laid: true);
        $holds = $this->holds();
        self::assertSame('cable', $this->value($holds, 'offers', 0, 'way'));
        $locked = $this->value($holds, 'offers', 1);
        $open = $this->value($holds, 'offers', 2);
        self::assertIsArray($locked);
        self::assertIsArray($open);
        self::assertSame(['digits', null], [$locked['lock'], $locked['counts']]);
        self::assertSame(['open', 0], [$open['lock'], $open['videos']]);
        self::assertLessThan($this->value($holds, 'counts', 'messages'), $this->value($open, 'counts', 'messages'));
        self::assertLessThanOrEqual(
            gmdate('Y-m-d\TH:i:s.v\Z', intdiv($dayBefore, 1000)), $this->text($open, 'counts', 'newest_at'),
        );
        foreach ([$locked, $open] as $own) {
            self::assertGreaterThan(0, $own['bytes']);
            self::assertGreaterThan(0, $own['attachment_bytes']);
        }
    }

    public function testTheOneThatIsChosenIsTakenAndWhatItLacksIsSaid(): void
    {
        $this->signIn();
        $this->layPhones();
        $until = $this->newestOnPhone() - 86_400_000;
        LocalBackupsOnPhone::make($this->giving, 'otterpost', false, intdiv($until, 1000), $until);
        $n = $this->openTray(laid: true);
        $own = $this->value($this->holds(), 'offers', 1);
        self::assertIsArray($own);
        $this->askAndWork($n, ['kind' => 'backup', 'offer' => $own['id']]);
        $move = $this->move($n);
        self::assertSame('choose', $move['stage']);
        $backup = $this->value($move, 'backup');
        self::assertIsArray($backup);
        self::assertSame(
            ['local_backup', $own['made_at'], 'open', true],
            [$backup['way_in'], $backup['made_at'], $backup['locked_with'], $backup['without_videos']],
        );
        self::assertSame($this->value($own, 'counts', 'messages'), $backup['messages']);
        self::assertSame($this->value($this->holds(), 'counts', 'newest_at'), $backup['phone_newest_at']);
        self::assertStringContainsString(
            'as the messenger itself had backed them up on ', (string) json_encode($this->tray($n)['steps']),
        );

        // What follows works on it as on any other; and the chats as they are can be taken instead.
        $this->askAndWork($n, ['kind' => 'conversion']);
        self::assertTrue($this->value($this->move($n), 'rehearsal', 'complete'));
        $this->askAndWork($n, ['kind' => 'backup']);
        $again = $this->value($this->move($n), 'backup');
        self::assertIsArray($again);
        self::assertSame(['cable', null, null], [$again['way_in'], $again['made_at'], $again['phone_newest_at']]);
        self::assertNull($this->move($n)['rehearsal']);
    }

    public function testALockedOneIsOpenedByItsKeyAloneAndNeedsNoneWhenItIsOpen(): void
    {
        $this->signIn();
        $this->layPhones();
        DemoMaker::lockBackups($this->giving, 'otterpost', self::KEY);
        LocalBackupsOnPhone::make($this->giving, 'otterpost', true, time() - 100);
        $n = $this->openTray(laid: true);
        $path = $this->text($this->holds(), 'offers', 1, 'id');
        $runs = "/api/trays/$n/moves/1/runs";
        $refused = $this->call('POST', $runs, ['kind' => 'backup', 'offer' => $path], 422);
        self::assertStringContainsString('is locked', $this->text($refused, 'detail'));
        $away = 'local_backup/../../phone.json';
        foreach (['local_backup/spares/other/pouch.gz', $away, 'local_backup', 'by_courier'] as $nothing) {
            $refused = $this->call('POST', $runs, ['kind' => 'backup', 'offer' => $nothing], 422);
            self::assertStringContainsString("is not on phone $n-A", $this->text($refused, 'detail'));
        }
        $this->call('POST', $runs, ['kind' => 'backup', 'offer' => str_repeat('x', 301)], 422);
        $this->askAndWork($n, ['kind' => 'backup', 'offer' => $path, 'key' => 'low tide']);
        self::assertSame('failed', $this->value($this->move($n), 'run', 'state'));
        self::assertSame(
            ['id' => $path, 'way' => 'local_backup', 'lock' => 'digits'],
            array_diff_key((array) $this->value($this->move($n), 'run', 'offer'), ['made_at' => 1]),
        );
        $goOn = $runs.'/'.$this->text($this->move($n), 'run', 'id').'/go-on';
        $this->call('POST', $goOn, null, 422);
        $this->call('POST', $goOn, ['key' => self::KEY], 202);
        $this->work();
        self::assertSame('digits', $this->value($this->move($n), 'backup', 'locked_with'));
    }

    public function testOneThatIsGoneWhenItsTurnComesIsSaidAndAnotherCanBeChosen(): void
    {
        $this->signIn();
        $this->layPhones();
        LocalBackupsOnPhone::make($this->giving, 'otterpost', true, time() - 100);
        $n = $this->openTray(laid: true);
        $path = $this->text($this->holds(), 'offers', 1, 'id');
        $runs = "/api/trays/$n/moves/1/runs";
        $this->call('POST', $runs, ['kind' => 'backup', 'offer' => $path], 202);
        unlink($this->giving->data('otterpost').'/'.substr($path, strlen('local_backup/')));
        $this->work();
        self::assertSame('failed', $this->value($this->move($n), 'run', 'state'));
        self::assertStringContainsString('no longer on the phone', $this->text($this->tray($n), 'waits', 'how'));
        $this->call('POST', $runs.'/'.$this->text($this->move($n), 'run', 'id').'/cancel', null, 202);
        $this->work();
        self::assertCount(1, (array) $this->holds()['offers']);
        $this->askAndWork($n, ['kind' => 'backup']);
        self::assertSame('cable', $this->value($this->move($n), 'backup', 'way_in'));
    }

    public function testWhatComesAfterABackupIsSeen(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        self::assertNull($this->value($this->move($n), 'backup', 'phone_newest_at'));
        IncomingMessage::comes($this->giving, 'otterpost');
        $holds = $this->holds();
        self::assertSame(
            $this->value($holds, 'counts', 'newest_at'), $this->value($this->move($n), 'backup', 'phone_newest_at'),
        );
    }

    public function testThePhoneMakesOneNowAndItShowsByItself(): void
    {
        $this->signIn();
        $n = $this->openTray();
        self::assertCount(1, (array) $this->holds()['offers']);
        Hands::do($this->giving, 'lock_backups_password otterpost');
        Hands::do($this->giving, 'back_up_now otterpost');
        $own = $this->value($this->holds(), 'offers', 1);
        self::assertIsArray($own);
        self::assertSame('password', $own['lock']);
        $key = LocalBackupsOnPhone::told($this->giving, 'otterpost');
        $this->askAndWork($n, ['kind' => 'backup', 'offer' => $own['id'], 'key' => $key]);
        self::assertSame('choose', $this->move($n)['stage']);
        Hands::do($this->giving, 'leave_backups_open otterpost');
        Hands::do($this->giving, 'fill');
        try {
            Hands::do($this->giving, 'back_up_now otterpost');
            self::fail('A phone that is full makes no backup.');
        } catch (HandRefused $refusal) {
            self::assertSame('hand_no_room', $refusal->reason);
        }
        Hands::do($this->giving, 'tidy');
        for ($more = 0; $more < 8; ++$more) {
            LocalBackupsOnPhone::make($this->giving, 'otterpost', true, time() - 900 + $more * 60);
        }
        self::assertCount(8, (array) $this->holds()['offers'], 'The messenger keeps so many.');
    }

    /** @return array<array-key, mixed> */
    private function holds(): array
    {
        $this->look();
        $holds = $this->value($this->tray($this->number()), 'phones', 0, 'live', 'accounts', 0, 'holds');
        self::assertIsArray($holds);

        return $holds;
    }

    /** @return array<array-key, mixed> */
    private function tray(int $n): array
    {
        return $this->call('GET', "/api/trays/$n");
    }

    private function number(): int
    {
        $number = $this->value($this->call('GET', '/api/trays'), 'trays', 0, 'number');
        self::assertIsInt($number);

        return $number;
    }

    /** @return int milliseconds since 1970 UTC */
    private function newestOnPhone(): int
    {
        $database = new Database(new \SQLite3($this->giving->data('otterpost').'/pouch.db', \SQLITE3_OPEN_READONLY));
        $newest = $database->one('SELECT MAX(sent_ms) AS newest FROM slip WHERE sent_ms < ?', [time() * 1000]);
        $database->close();

        return $newest?->int('newest') ?? 0;
    }
}
