<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Runs\Kinds;
use Geschenk\App\View\ProgressView;
use Geschenk\App\Work\Backup\BackupKind;
use Geschenk\App\Work\Conversion\ConversionKind;
use Geschenk\App\Work\Foreman;
use Geschenk\App\Work\NewRuns;
use Geschenk\App\Work\RunHandler;
use Geschenk\App\Work\RunProgress;
use Geschenk\App\Work\WorkOnRun;
use Geschenk\Tests\App\ApiTestCase;
use Symfony\Component\Clock\NativeClock;
use Symfony\Component\Lock\LockFactory;
use Symfony\Component\Messenger\Transport\InMemory\InMemoryTransport;

/** Runs: one at a time on a phone, taken up when their worker was killed, with a progress that is true. */
final class RunsTest extends ApiTestCase
{
    public function testAPhoneIsUsedByOneRunAtATime(): void
    {
        $run = $this->aRun(BackupKind::name());
        $phone = $this->locks()->createLock('phone-GIVES0001', null);
        self::assertTrue($phone->acquire());
        $this->handle($run);
        self::assertSame(RunState::Queued, $this->again($run)->state());
        $foreman = self::getContainer()->get(Foreman::class);
        $foreman->round();
        self::assertSame([$run->id], $this->sent(), 'The foreman hands it out again.');
        $phone->release();
        $this->handle($run);
        self::assertSame(RunState::Done, $this->again($run)->state());
    }

    public function testARunThatAnotherWorkerHasIsLeftAlone(): void
    {
        $run = $this->aRun(BackupKind::name());
        $other = $this->locks()->createLock('run-'.$run->id, null);
        self::assertTrue($other->acquire());
        $this->handle($run);
        self::assertSame(RunState::Queued, $this->again($run)->state());
        self::assertSame([], $this->sent());
        $other->release();
    }

    public function testARunThatIsOverIsNotDoneTwice(): void
    {
        $run = $this->aRun(BackupKind::name());
        $this->handle($run);
        $finished = $this->again($run)->finishedAt();
        $this->handle($run);
        self::assertEquals($finished, $this->again($run)->finishedAt());
        self::assertCount(
            1,
            array_filter(
                $this->again($run)->move()->tray->steps(), static fn ($s): bool => 'back_up' === $s->stage->value,
            ),
        );
    }

    public function testTheForemanHandsOutWhatAKilledWorkerLeft(): void
    {
        $killed = $this->aRun(BackupKind::name());
        $killed->work();
        $this->entities()->flush();
        self::getContainer()->get(Foreman::class)->round();
        self::assertSame([$killed->id], $this->sent());
        $this->handle($killed);
        self::assertSame(RunState::Done, $this->again($killed)->state());
    }

    public function testWhatOnlyTheMachineUnderstandsIsNotShownToTheTechnician(): void
    {
        // A conversion whose backup was taken away from under it.
        $run = $this->aRun(ConversionKind::name());
        $this->handle($run);
        $failed = $this->again($run);
        self::assertSame(RunState::Failed, $failed->state());
        self::assertSame('no_backup', $failed->trouble());
    }

    public function testProgressHasPhaseItemsBytesSpeedAndTimeLeft(): void
    {
        $run = $this->aRun(BackupKind::name());
        $progress = new RunProgress($this->entities()->getConnection(), $run->id, new NativeClock());
        $progress->phase('pulling', 100, 1_000_000);
        // A resumed run tells first what was done before; that is no speed.
        $progress->advance(40, 400_000);
        usleep(500_000);
        $progress->advance(10, 100_000);
        $row = self::getContainer()->get(ProgressView::class)->of($this->again($run));
        self::assertSame(
            ['pulling', 50, 100, 500_000, 1_000_000],
            [$row['phase'], $row['items_done'], $row['items_total'], $row['bytes_done'], $row['bytes_total']],
        );
        self::assertNotNull($row['bytes_per_second']);
        self::assertLessThan(250_000, $row['bytes_per_second'], 'What was there before is not counted as speed.');
        self::assertGreaterThanOrEqual(2, $row['seconds_left']);
    }

    public function testWorkersThatAreKilledSayNothingOfWhatTheyWorkedOn(): void
    {
        $run = $this->aRun(BackupKind::name());
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        for ($kills = 0; $kills < 5; ++$kills) {
            $entities->getConnection()->executeStatement("UPDATE run SET state = 'working', phase = 'pulling'");
            self::assertSame(0, $this->again($run)->attempts());
        }
        $this->handle($run);
        self::assertSame(RunState::Done, $this->again($run)->state());
    }

    public function testOneOfWhichWorkersDieAtTheSamePlaceIsNotBegunForEver(): void
    {
        $run = $this->aRun(BackupKind::name());
        $connection = self::getContainer()->get(EntityManagerInterface::class)->getConnection();
        $handler = self::getContainer()->get(RunHandler::class);
        $current = new \ReflectionProperty($handler, 'current');
        $noteDeath = new \ReflectionMethod($handler, 'noteDeath');
        $die = static function (
            string $phase,
            int $error,
        ) use ($connection, $handler, $current, $noteDeath, $run): void {
            $connection->executeStatement('UPDATE run SET phase = ?', [$phase]);
            $current->setValue($handler, $run->id);
            $noteDeath->invoke($handler, $error);
            $current->setValue($handler, null);
        };
        // Getting on counts, and so does what is no death.
        foreach ([['pulling', \E_ERROR], ['pulling', \E_ERROR], ['pulling', 0], ['reading', \E_ERROR]] as $death) {
            $die(...$death);
        }
        self::assertSame(1, $this->again($run)->attempts());
        $die('reading', \E_ERROR);
        $die('reading', \E_ERROR);
        $this->handle($run);
        self::assertSame(
            [RunState::Failed, 'ended_its_worker'], [$this->again($run)->state(), $this->again($run)->trouble()],
        );
    }

    private function aRun(string $kind): Run
    {
        $this->signIn();
        $number = $this->openTray();
        $tray = $this->entities()->getRepository(Tray::class)->findOneBy(['number' => $number]);
        self::assertNotNull($tray);
        $move = $tray->move(1) ?? self::fail('The tray has no move.');
        $run = self::getContainer()->get(NewRuns::class)->make(
            $move, self::getContainer()->get(Kinds::class)->of($kind), 'jette',
        );
        $this->entities()->flush();

        return $run;
    }

    private function handle(Run $run): void
    {
        (self::getContainer()->get(RunHandler::class))(new WorkOnRun($run->id));
    }

    private function again(Run $run): Run
    {
        $this->entities()->clear();

        return $this->entities()->find(Run::class, $run->id) ?? self::fail('The run is gone.');
    }

    /** @return list<string> run ids that were sent to the worker */
    private function sent(): array
    {
        $transport = self::getContainer()->get('messenger.transport.runs');
        self::assertInstanceOf(InMemoryTransport::class, $transport);
        $ids = [];
        foreach ($transport->getSent() as $envelope) {
            $message = $envelope->getMessage();
            self::assertInstanceOf(WorkOnRun::class, $message);
            $ids[] = $message->runId;
        }

        return $ids;
    }

    private function entities(): EntityManagerInterface
    {
        return self::getContainer()->get(EntityManagerInterface::class);
    }

    private function locks(): LockFactory
    {
        return self::getContainer()->get(LockFactory::class);
    }
}
