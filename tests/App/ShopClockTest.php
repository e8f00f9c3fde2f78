<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Clock\MachineTime;
use Geschenk\App\Clock\ShopClock;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\BackupState;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Work\Erasing;
use Geschenk\Core\Archive\Vault;
use Geschenk\Tests\Support\Machine;
use Geschenk\Tests\Support\Phones;
use Symfony\Component\Clock\Clock;
use Symfony\Component\Clock\MockClock;

/** A clock that jumps erases nothing: what can't be undone goes by the machine's own time too. */
final class ShopClockTest extends ApiTestCase
{
    private MockClock $clock;
    private Machine $machine;

    protected function setUp(): void
    {
        parent::setUp();
        $this->machine = new Machine();
        self::getContainer()->set(MachineTime::class, $this->machine);
        $this->clock = new MockClock('2026-11-26 10:00:00', 'UTC');
        Clock::set($this->clock);
        $this->isWatched = false;
    }

    public function testAClockThatIsAHundredDaysAheadForAMinuteErasesNothing(): void
    {
        $n = $this->handedOver();
        $this->round();
        $this->clock->modify('+100 days');
        for ($minutes = 0; $minutes < 300; ++$minutes) {
            $this->pass(60);
            $this->round();
        }
        self::assertNull($this->tray($n)->eraseAskedAt(), 'Nobody has said that this is the date.');
        $this->signIn();
        $doubt = $this->value($this->call('GET', '/api/clock'), 'doubt');
        self::assertSame(['2026-11-26T10:01', '2027-03-06T10:01'], [
            substr($this->text((array) $doubt, 'should_be'), 0, 16), substr($this->text((array) $doubt, 'told'), 0, 16),
        ]);
        $this->clock->modify('-100 days');
        $this->pass(60);
        $this->round();
        $this->signIn();
        self::assertNotNull($this->value($this->call('GET', '/api/clock'), 'doubt'), 'Somebody has to say so.');
        // Right again, and confirmed: what was seen meanwhile counts for nothing.
        $this->call('POST', '/api/clock/confirm', null, 403);
        $this->signIn('orla');
        $this->call('POST', '/api/clock/confirm');
        self::assertNull($this->value($this->call('GET', '/api/clock'), 'doubt'));
        $this->pass(60);
        $this->round();
        self::assertNull($this->tray($n)->eraseAskedAt());
        $acts = array_column((array) $this->call('GET', '/api/log')['entries'], 'text', 'act');
        self::assertArrayHasKey('clock_confirmed', $acts);
        self::assertStringContainsString('nothing is erased by time', $this->text($acts, 'clock_jumped'));
    }

    public function testItIsErasedByTheShopsRuleOnceItsTimeWasSeenToBeOverForHours(): void
    {
        $n = $this->handedOver();
        $this->live(31);
        self::assertNull($this->tray($n)->eraseAskedAt(), 'It was kept until the last second of its last day.');
        for ($minutes = 0; $minutes < Erasing::OVER_FOR / 60; ++$minutes) {
            self::assertNull($this->tray($n)->eraseAskedAt(), "$minutes minutes over");
            $this->pass(60);
            $this->round();
        }
        self::assertNotNull($this->tray($n)->eraseAskedAt());
        self::getContainer()->get(Erasing::class)->do($n);
        $this->signIn();
        self::assertSame('the shop’s rule', $this->value($this->call('GET', "/api/trays/$n"), 'keeping', 'erased_by'));
        $steps = (string) json_encode($this->call('GET', "/api/trays/$n")['steps'], \JSON_UNESCAPED_UNICODE);
        self::assertStringContainsString('the shop’s rule', $steps);
    }

    public function testOneBackupGoesOnADayOfItsOwnBeforeTheRestOfItsTrayOrBehindIt(): void
    {
        [$n, $early, $late] = $this->twoKept();
        $vault = self::getContainer()->get(Vault::class);
        $tray = $this->call('PUT', "/api/backups/$early/keeping", ['keep_until' => '2026-12-06']);
        self::assertStringStartsWith('2026-12-06', $this->text($tray, 'keeping', 'list', 0, 'until'));
        self::assertNull($this->value($tray, 'keeping', 'list', 1, 'until'), 'The tray’s.');
        $this->call('PUT', "/api/backups/$late/keeping", ['keep_until' => '2027-02-24']);
        self::assertSame('no_day_to_keep', $this->refusal('PUT', "/api/backups/$late/keeping", [
            'keep_until' => '2029-01-01',
        ]));
        $this->live(11);
        self::assertTrue($this->backup($early)->isKept());
        $this->staysOver();
        self::assertSame([BackupState::Erasing, 'shop rule'], [
            $this->backup($early)->state(), $this->backup($early)->eraseBy(),
        ]);
        self::getContainer()->get(Erasing::class)->doBackup($early);
        self::assertSame(
            [BackupState::Erased, true, null],
            [$this->backup($early)->state(), $this->backup($late)->isKept(), $this->tray($n)->eraseAskedAt()],
        );
        $this->live(31);
        $this->staysOver();
        self::getContainer()->get(Erasing::class)->do($n);
        self::assertNotNull($this->tray($n)->erasedAt());
        $vault->verify($late);
        $this->signIn();
        $found = (array) $this->call('POST', '/api/backups/find', ['words' => ''])['backups'];
        self::assertSame([$late], array_column($found, 'id'), 'It can be brought still.');
        $keeping = (array) $this->value($this->call('GET', "/api/trays/$n"), 'keeping');
        self::assertNotContains($late, array_column((array) $keeping['erased'], 'id'));
        $may = (array) $this->value($keeping, 'list', 1, 'may');
        self::assertSame(['verify', 'lock', 'keep', 'erase'], array_column($may, 'act'));
        $this->live(91);
        $this->staysOver();
        self::assertSame(BackupState::Erasing, $this->backup($late)->state());
        // Its worker was killed: it is handed out once more.
        $this->pass(120);
        $this->round();
        self::getContainer()->get(Erasing::class)->doBackup($late);
        self::assertSame(BackupState::Erased, $this->backup($late)->state());
        self::assertSame([], array_filter($vault->places($late), file_exists(...)));
    }

    public function testADayThatIsOverWhileItsTrayIsOpenEndsNothingBehindTheNextHandOver(): void
    {
        [$n, $early] = $this->twoKept();
        $this->call('PUT', "/api/backups/$early/keeping", ['keep_until' => '2026-12-06']);
        $this->live(11);
        $this->signIn();
        $this->isWatched = true;
        $this->layPhones();
        $this->call('POST', "/api/trays/$n/reopen", []);
        $this->handOver($n);
        self::assertFalse($this->backup($early)->hasItsOwnDay());
        $this->staysOver();
        self::assertTrue($this->backup($early)->isKept());
    }

    public function testWhoErasesATrayAtOnceErasesWhatWasToBeKeptLonger(): void
    {
        [$n, $early, $late] = $this->twoKept();
        $this->call('PUT', "/api/backups/$late/keeping", ['keep_until' => '2027-02-24']);
        $this->call('POST', "/api/trays/$n/erase", ['number' => "$n"], 202);
        self::getContainer()->get(Erasing::class)->do($n);
        foreach ([$early, $late] as $id) {
            self::assertSame(BackupState::Erased, $this->backup($id)->state());
        }
        self::assertSame('erased', $this->refusal('PUT', "/api/backups/$late/keeping", [
            'keep_until' => '2027-02-24',
        ], 404));
    }

    public function testAConfirmedJumpStillNeedsHoursOfTheMachinesOwnTime(): void
    {
        $n = $this->handedOver();
        $this->round();
        $this->clock->modify('+100 days');
        $this->round();
        self::getContainer()->get(ShopClock::class)->confirm('orla');
        $this->round();
        self::assertNull($this->tray($n)->eraseAskedAt());
        // The computer was off meanwhile: its time is counted anew.
        $this->machine->start();
        $this->pass(Erasing::OVER_FOR - 60);
        $this->round();
        self::assertNull($this->tray($n)->eraseAskedAt());
        $this->pass(Erasing::OVER_FOR);
        $this->round();
        self::assertNotNull($this->tray($n)->eraseAskedAt());
    }

    public function testAComputerMayBeOffOverAWeekendAndSleepAndBeSetRightByALittle(): void
    {
        $this->round();
        foreach ([3 * 86_400, 60, 10 * 3600] as $off) {
            $this->machine->start();
            $this->clock->sleep($off);
            $this->round();
        }
        // Asleep: the machine's own time counts that too.
        $this->pass(14 * 3600);
        $this->round();
        $this->clock->sleep(ShopClock::TOLERANCE - 10);
        $this->round();
        $this->clock->modify(sprintf('-%d seconds', ShopClock::TOLERANCE - 10));
        $this->round();
        self::assertTrue(self::getContainer()->get(ShopClock::class)->isTrusted());
    }

    public function testAnEmptyBatteryAndAMistypedYearAreSeenAcrossAStart(): void
    {
        foreach (['2000-01-01 00:00:00', '2027-11-26 10:00:00'] as $wrong) {
            $this->clock->modify('2026-11-26 10:00:00');
            self::getContainer()->get(ShopClock::class)->confirm('orla');
            $this->round();
            self::getContainer()->get(ShopClock::class)->confirm('orla');
            $this->machine->start();
            $this->clock->modify($wrong);
            $this->round();
            self::assertFalse(self::getContainer()->get(ShopClock::class)->isTrusted(), $wrong);
        }
    }

    private function handedOver(): int
    {
        $this->signIn();
        $this->isWatched = true;
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $this->handOver($n);
        $this->isWatched = false;

        return $n;
    }

    /** @return array{int, string, string} number of a closed tray, and the two backups that it keeps */
    private function twoKept(): array
    {
        $this->signIn();
        $this->isWatched = true;
        $this->layPhones();
        $n = $this->call('POST', '/api/trays', [
            'customer' => 'Test Person', 'contact' => 'the café', 'consent' => true, 'errand' => 'only_back_up',
            'giving' => Phones::GIVING,
        ], 201)['number'];
        self::assertIsInt($n);
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->handOver($n);
        $this->isWatched = false;
        $list = (array) $this->value($this->call('GET', "/api/trays/$n"), 'keeping', 'list');
        self::assertCount(2, $list);

        return [$n, $this->text($list, 0, 'id'), $this->text($list, 1, 'id')];
    }

    /** For as long as it has to be seen to be over. */
    private function staysOver(): void
    {
        for ($minutes = 0; $minutes <= Erasing::OVER_FOR / 60; $minutes += 10) {
            $this->pass(600);
            $this->round();
        }
    }

    private function backup(string $id): Backup
    {
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        $entities->clear();

        return $entities->find(Backup::class, $id) ?? self::fail('There is no such backup.');
    }

    /** What the watch does once a minute. */
    private function round(): void
    {
        self::getContainer()->get(ShopClock::class)->look();
        self::getContainer()->get(Erasing::class)->due();
        self::getContainer()->get(EntityManagerInterface::class)->clear();
    }

    private function pass(int $seconds): void
    {
        $this->clock->sleep($seconds);
        $this->machine->seconds += $seconds;
    }

    private function live(int $days): void
    {
        // To the first minute of the shop's day behind it.
        $end = new \DateTimeImmutable(sprintf('2026-11-26 +%d days', $days), new \DateTimeZone('Europe/London'));
        while ($this->clock->now() < $end) {
            $this->pass(min(1800, $end->getTimestamp() - $this->clock->now()->getTimestamp()));
            $this->round();
        }
    }

    private function tray(int $n): Tray
    {
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        $entities->clear();

        return $entities->getRepository(Tray::class)->findOneBy(['number' => $n]) ?? self::fail();
    }
}
