<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Work\KeepingDesk;
use Geschenk\App\Work\Round\Nightly;
use Geschenk\App\Work\Round\RoundKind;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Tests\App\ApiTestCase;
use Symfony\Component\Clock\Clock;
use Symfony\Component\Clock\MockClock;
use Symfony\Component\Clock\NativeClock;

/** What is kept is read back, a share each night, and whoever looks is called where one is not whole. */
final class RoundTest extends ApiTestCase
{
    protected function tearDown(): void
    {
        Clock::set(new NativeClock());
        parent::tearDown();
    }

    public function testTheOneThatNobodyHasReadForLongestIsReadAndABrokenOneCalls(): void
    {
        $ids = [$this->backup(), $this->backup(), $this->backup()];
        foreach ($ids as $n => $id) {
            $this->readAt($id, sprintf('2026-06-%02d', 20 - $n));
        }
        self::assertSame([0, null], $this->calls());
        $this->desk()->askOfShop(RoundKind::name(), 'bench');
        $this->work();
        // A thirtieth of three is one: the last of these, read longest ago.
        self::assertSame([false, false, true], array_map($this->isReadToday(...), $ids));
        self::assertSame([0, 1], $this->calls());

        $this->readAt($ids[2], '-2 minutes');
        file_put_contents($this->lies($ids[1], 'data/chats.sqlite'), 'spoilt');
        $this->desk()->askOfShop(RoundKind::name(), 'bench');
        $this->work();
        self::assertSame([false, true, true], array_map($this->isReadToday(...), $ids));
        self::assertSame([1, 1], $this->calls());
        self::assertSame(1, $this->call('GET', '/api/wall')['broken']);
        $this->signIn('orla');
        $log = (string) json_encode($this->call('GET', '/api/log'));
        self::assertStringContainsString('Read 1 kept backup back in a round: 1 is not whole', $log);
        self::assertStringContainsString('it is not as it was kept', $log);
    }

    public function testOneWhoseKeyIsDamagedCostsItselfAndNoOther(): void
    {
        $ids = [$this->backup(), $this->backup()];
        array_map(fn (string $id, string $at) => $this->readAt($id, $at), $ids, ['2026-06-18', '2026-06-19']);
        $ring = self::getContainer()->get(DataFolder::class)->keys().'/ring';
        $told = (string) file_get_contents($ring);
        $at = (int) strpos($told, $ids[0]) + 80;
        Disk::put($ring, substr_replace($told, 'A' === $told[$at] ? 'B' : 'A', $at, 1));
        foreach ($ids as $_) {
            $run = $this->desk()->askOfShop(RoundKind::name(), 'bench');
            $this->work();
            self::assertSame(RunState::Done, $this->entities()->find(Run::class, $run->id)?->state());
            $this->readAt($ids[1], '2026-06-19');
        }
        Disk::put($ring, $told);
        self::assertSame('keyring_broken', $this->entities()->find(Backup::class, $ids[0])?->trouble());
    }

    public function testARoundThatWasKilledReadsNoMoreThanItsShare(): void
    {
        $ids = [$this->backup(), $this->backup()];
        array_map(fn (string $id) => $this->readAt($id, '2026-06-20'), $ids);
        $run = $this->desk()->askOfShop(RoundKind::name(), 'bench');
        // Behind the first, and before the run was over.
        $this->readAt($ids[0], 'now');
        $this->work();
        self::assertSame(RunState::Done, $this->entities()->find(Run::class, $run->id)?->state());
        self::assertFalse($this->isReadToday($ids[1]));
    }

    public function testItIsAskedForOnceANightAndByDayOnlyWhereTheNightsWentBy(): void
    {
        $this->signIn();
        $clock = new MockClock('2026-12-01 12:00:00', 'Europe/London');
        Clock::set($clock);
        $asked = fn (): int => $this->entities()->getRepository(Run::class)->count(['kind' => RoundKind::name()]);
        $look = fn () => self::getContainer()->get(Nightly::class)->look();
        $look();
        self::assertSame(0, $asked(), 'Nothing is kept.');
        $id = $this->backup();
        $this->readAt($id, '2026-12-01 10:00:00');
        foreach ([
            '2026-12-01 23:00:00' => 0, '2026-12-02 07:00:00' => 0, '2026-12-02 12:00:00' => 0,
            '2026-12-02 22:30:00' => 1, '2026-12-03 05:00:00' => 1, '2026-12-03 23:00:00' => 2,
            // The shop was closed for two nights.
            '2026-12-05 18:00:00' => 2, '2026-12-05 20:00:00' => 3,
        ] as $at => $count) {
            $clock->modify($at);
            $look();
            $this->work();
            self::assertSame($count, $asked(), $at);
        }
        // What was asked for and is not over is not asked for again.
        $clock->modify('2026-12-07 01:00:00');
        $look();
        $clock->modify('2026-12-09 01:00:00');
        $look();
        self::assertSame(4, $asked());
    }

    private function backup(): string
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $id = $this->text($this->move($n), 'backup', 'id');
        $this->entities()->getConnection()->executeStatement('UPDATE tray_phone SET held = 0');

        return $id;
    }

    private function readAt(string $id, string $at): void
    {
        $this->entities()->clear();
        $this->entities()->find(Backup::class, $id)?->verified(new \DateTimeImmutable($at), null);
        $this->entities()->flush();
    }

    private function isReadToday(string $id): bool
    {
        $this->entities()->clear();
        $at = $this->entities()->find(Backup::class, $id)?->verifiedAt();

        return null !== $at && $at > new \DateTimeImmutable('-1 hour');
    }

    /** @return array{mixed, mixed} how many are broken, and how many were read the last time */
    private function calls(): array
    {
        $told = $this->call('GET', '/api/cupboard/calls');

        return [$told['broken'], null === $told['round'] ? null : $this->value($told, 'round', 'read')];
    }

    private function desk(): KeepingDesk
    {
        return self::getContainer()->get(KeepingDesk::class);
    }

    private function entities(): EntityManagerInterface
    {
        return self::getContainer()->get(EntityManagerInterface::class);
    }
}
