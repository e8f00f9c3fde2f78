<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\Phones as SeenPhones;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Runs\Kinds;
use Geschenk\App\Tray\Time\Paces;
use Geschenk\App\View\ProgressView;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Kinds\CountingKind;
use Geschenk\Tests\Support\Phones;

/** A kind of run that tests/ brings along is asked for, done, killed, cancelled and estimated like those of src/. */
final class KindTest extends ApiTestCase
{
    private const RUNS = '/moves/1/runs';

    protected function setUp(): void
    {
        parent::setUp();
        CountingKind::$counted = CountingKind::$said = [];
        CountingKind::$meanwhile = null;
    }

    public function testItIsFoundAskedForAndDoneAtItsStageOnItsPhone(): void
    {
        $n = $this->begun();
        $move = $this->move($n);
        self::assertSame(
            ['check', 'counting', "$n-B"],
            [$move['stage'], $this->value($move, 'run', 'kind'), $this->value($move, 'run', 'tag')],
        );
        $run = $this->newest();
        self::assertSame(Phones::RECEIVING, $run->serial());
        $this->work();
        self::assertSame('done', $this->value($this->move($n), 'run', 'state'));
        self::assertSame([1, 2, 3, 4, 5], CountingKind::$said[$run->id]);
        self::assertSame('choose', $this->move($n)['stage'], 'Where the move stood before.');
        self::assertSame('no_such_work', $this->refusal('POST', "/api/trays/$n".self::RUNS, ['kind' => 'dreaming']));
    }

    public function testOneWhoseWorkerIsKilledGoesOnFromWhereItWas(): void
    {
        $this->begun();
        $run = $this->newest();
        CountingKind::$counted[$run->id] = 3;
        $run->work();
        $this->entities()->flush();
        $this->work();
        self::assertSame([4, 5], CountingKind::$said[$run->id]);
        self::assertTrue($this->newest()->state()->isOver());
    }

    public function testOneWhoseChangeTheDatabaseRefusesHasFailedAndIsNotBegunForEver(): void
    {
        $n = $this->begun();
        // It throws away what others tell of, which ends the manager of the records too.
        CountingKind::$meanwhile = function (): void {
            $backup = $this->entities()->getRepository(Backup::class)->findAll()[0] ?? self::fail();
            $this->entities()->remove($backup);
            $this->entities()->flush();
        };
        $this->work(1);
        self::assertSame([RunState::Failed, 'unexpected'], [$this->newest()->state(), $this->newest()->trouble()]);
        self::assertSame([], $this->handedOut());
        // The same worker goes on with the next.
        CountingKind::$meanwhile = null;
        $this->call('POST', "/api/trays/$n".self::RUNS."/{$this->newest()->id}/go-on", null, 202);
        $this->work();
        self::assertSame(RunState::Done, $this->newest()->state());
    }

    public function testOneThatIsCancelledIsUndoneByItself(): void
    {
        $n = $this->begun();
        $run = $this->newest();
        CountingKind::$counted[$run->id] = 2;
        $this->call('POST', "/api/trays/$n".self::RUNS."/{$run->id}/cancel", null, 202);
        $this->work();
        self::assertSame('cancelled', $this->value($this->move($n), 'run', 'state'));
        self::assertSame([], CountingKind::$counted);
        self::assertSame([], CountingKind::$said[$run->id]);
    }

    public function testWhatItTakesIsLearntFromIt(): void
    {
        $this->begun();
        $run = $this->newest();
        $kinds = self::getContainer()->get(Kinds::class);
        $paces = self::getContainer()->get(Paces::class);
        $progress = self::getContainer()->get(ProgressView::class);
        $run->begin();
        self::assertNull($progress->of($run)['job_seconds_left']);
        $messages = $paces->units($run->move())['messages'];
        self::assertIsInt($messages);
        $paces->learn($run, ['reading' => ['seconds' => $messages / 10.0, 'bytes' => null]]);
        $this->entities()->flush();
        $paces->reset();
        self::assertEqualsWithDelta(10.0, $paces->of($kinds->ofMove('counting'), ...[
            $kinds->ofMove('counting')->phases($run->move())[0], '',
        ]), 0.01);
        self::assertSame((int) ceil($messages / 10.0), $progress->of($run)['job_seconds_left']);
    }

    public function testAWayBackIsAskedForAndGoesOnBehindTheHandOver(): void
    {
        $n = $this->begun();
        $this->work();
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $this->handOver($n);
        $this->call('POST', "/api/trays/$n".self::RUNS, ['kind' => 'counting'], 202);
        $phones = self::getContainer()->get(SeenPhones::class);
        self::assertSame([Phones::RECEIVING => $n], $phones->inUse([Phones::RECEIVING]));
        $this->work();
        self::assertSame([], $phones->inUse([Phones::RECEIVING]));
        self::assertSame([1, 2, 3, 4, 5], CountingKind::$said[$this->newest()->id]);
        self::assertSame('tray_closed', $this->refusal('POST', "/api/trays/$n".self::RUNS, ['kind' => 'check']));
    }

    private function begun(): int
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->call('POST', "/api/trays/$n".self::RUNS, ['kind' => 'counting'], 202);

        return $n;
    }

    private function newest(): Run
    {
        return $this->entities()->getRepository(Run::class)->findOneBy([], ['counter' => 'DESC']) ?? self::fail();
    }

    private function entities(): EntityManagerInterface
    {
        return self::getContainer()->get(EntityManagerInterface::class);
    }
}
