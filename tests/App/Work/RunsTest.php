<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Tray\TrayStatus;
use Geschenk\App\Work\RunHandler;
use Geschenk\App\Work\RunKind;
use Geschenk\App\Work\RunProgress;
use Geschenk\App\Work\RunState;
use Geschenk\App\Work\TakeUpAbandonedRuns;
use Geschenk\App\Work\WorkOnRun;
use Geschenk\Tests\App\ApiTestCase;
use Symfony\Component\EventDispatcher\EventDispatcher;
use Symfony\Component\Lock\LockFactory;
use Symfony\Component\Messenger\Event\WorkerStartedEvent;
use Symfony\Component\Messenger\MessageBus;
use Symfony\Component\Messenger\Transport\InMemory\InMemoryTransport;
use Symfony\Component\Messenger\Worker;
use Symfony\Component\Uid\Uuid;

/** Runs: one at a time on a phone, taken up when their worker was killed, with a progress that is true. */
final class RunsTest extends ApiTestCase
{
    public function testAPhoneIsUsedByOneRunAtATime(): void
    {
        $run = $this->aRun(RunKind::Backup);
        $phone = $this->locks()->createLock('phone-GIVES0001', null);
        self::assertTrue($phone->acquire());
        $this->handle($run);
        self::assertSame(RunState::Queued, $this->again($run)->state());
        self::assertCount(1, $this->sent(), 'It asks to be looked at again.');
        $phone->release();
        $this->handle($run);
        self::assertSame(RunState::Done, $this->again($run)->state());
    }

    public function testARunThatAnotherWorkerHasIsLeftAlone(): void
    {
        $run = $this->aRun(RunKind::Backup);
        $other = $this->locks()->createLock('run-'.$run->id, null);
        self::assertTrue($other->acquire());
        $this->handle($run);
        self::assertSame(RunState::Queued, $this->again($run)->state());
        self::assertSame([], $this->sent());
        $other->release();
    }

    public function testARunThatIsOverIsNotDoneTwice(): void
    {
        $run = $this->aRun(RunKind::Backup);
        $this->handle($run);
        $finished = $this->again($run)->finishedAt();
        $this->handle($run);
        self::assertEquals($finished, $this->again($run)->finishedAt());
        self::assertCount(1, array_filter($this->again($run)->tray->steps(), static fn ($s): bool => 'back_up' === $s->stage->value));
    }

    public function testAWorkerThatStartsTakesUpWhatAKilledOneLeft(): void
    {
        $killed = $this->aRun(RunKind::Backup);
        $killed->work();
        $this->entities()->flush();
        (self::getContainer()->get(TakeUpAbandonedRuns::class))(new WorkerStartedEvent(new Worker([], new MessageBus(), new EventDispatcher())));
        self::assertSame([$killed->id], $this->sent());
        $this->handle($killed);
        self::assertSame(RunState::Done, $this->again($killed)->state());
    }

    public function testWhatOnlyTheMachineUnderstandsIsNotShownToTheTechnician(): void
    {
        // A conversion whose backup was taken away from under it.
        $run = $this->aRun(RunKind::Conversion);
        $this->handle($run);
        $failed = $this->again($run);
        self::assertSame(RunState::Failed, $failed->state());
        self::assertSame('There is no backup to convert. Take one first.', $failed->trouble());
    }

    public function testProgressHasPhaseItemsBytesSpeedAndTimeLeft(): void
    {
        $run = $this->aRun(RunKind::Backup);
        $progress = new RunProgress($this->entities()->getConnection(), $run->id);
        $progress->phase('pulling', 100, 1_000_000);
        // A resumed run tells first what was done before; that is no speed.
        $progress->advance(40, 400_000);
        usleep(500_000);
        $progress->advance(10, 100_000);
        $row = TrayStatus::progress($this->again($run));
        self::assertSame(['pulling', 50, 100, 500_000, 1_000_000], [$row['phase'], $row['items_done'], $row['items_total'], $row['bytes_done'], $row['bytes_total']]);
        self::assertNotNull($row['bytes_per_second']);
        self::assertLessThan(250_000, $row['bytes_per_second'], 'What was there before is not counted as speed.');
        self::assertGreaterThanOrEqual(2, $row['seconds_left']);
    }

    private function aRun(RunKind $kind): Run
    {
        $this->signIn();
        $number = $this->openTray();
        $tray = $this->entities()->getRepository(Tray::class)->findOneBy(['number' => $number]);
        self::assertNotNull($tray);
        $run = new Run(Uuid::v7()->toRfc4122(), $tray, $kind, new \DateTimeImmutable(), 'jette');
        $this->entities()->persist($run);
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
