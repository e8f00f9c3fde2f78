<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\LogEntry;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunAct;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Refusal;
use Geschenk\App\Runs\MoveAt;
use Geschenk\App\Work\KeepingDesk;
use Geschenk\App\Work\RunDesk;
use Geschenk\Core\Failure;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Kinds\StocktakingKind;

/** A run of the shop is asked for, done, killed and cancelled as one of a move is; no tray knows of it. */
final class SubjectTest extends ApiTestCase
{
    protected function setUp(): void
    {
        parent::setUp();
        StocktakingKind::$counted = [];
        StocktakingKind::$meanwhile = null;
    }

    public function testOneOfTheShopIsDoneOnceHoweverOftenItIsAskedFor(): void
    {
        $n = $this->begun();
        $run = $this->desk()->askOfShop('stocktaking', 'orla');
        self::assertSame($run->id, $this->desk()->askOfShop('stocktaking', 'jette')->id);
        self::assertNull($run->subject());
        $before = $this->call('GET', "/api/trays/$n");
        $this->work();
        self::assertSame(RunState::Done, $this->again($run)->state());
        self::assertCount(1, StocktakingKind::$counted[$run->id]);
        self::assertSame($before['moves'], $this->call('GET', "/api/trays/$n")['moves']);
        self::assertNotSame($run->id, $this->desk()->askOfShop('stocktaking', 'orla')->id);
        $said = $this->entities()->getRepository(LogEntry::class)->findBy(['act' => 'asked_of_shop']);
        self::assertSame([[null, 'orla'], [null, 'orla']], array_map(
            static fn (LogEntry $entry): array => [$entry->trayNumber, $entry->by], $said,
        ));
        $this->signIn('orla');
        self::assertStringContainsString('Asked for the', (string) json_encode($this->call('GET', '/api/log')));
    }

    public function testWhoseWorkerIsKilledGoesOnAndWhatRestsDoesSoUntilSomebodySaysOtherwise(): void
    {
        $this->begun();
        $run = $this->desk()->askOfShop('stocktaking', 'orla');
        $this->again($run)->begin();
        $this->entities()->flush();
        $this->desk()->act(null, $run->id, RunAct::Pause, 'jette');
        self::assertSame(RunState::Working, $this->again($run)->state(), 'Told, and not there yet.');
        StocktakingKind::$meanwhile = static fn () => usleep(300_000);
        $this->work();
        self::assertSame([RunState::Paused, 'paused'], [$this->again($run)->state(), $this->again($run)->trouble()]);
        self::assertSame([], $this->handedOut());
        $this->desk()->act(null, $run->id, RunAct::GoOn, 'orla');
        self::assertSame('run_not_standing', $this->reason($run, RunAct::GoOn));
        $this->work();
        self::assertSame(RunState::Done, $this->again($run)->state());
        self::assertSame('run_over', $this->reason($run, RunAct::Pause));
    }

    public function testOneThatIsCancelledIsUndoneByItself(): void
    {
        $this->begun();
        $run = $this->desk()->askOfShop('stocktaking', 'orla');
        $this->desk()->act(null, $run->id, RunAct::Cancel, 'orla');
        $this->work();
        self::assertSame([RunState::Cancelled, []], [$this->again($run)->state(), StocktakingKind::$counted]);
    }

    public function testOneThatFailedGoesOnNoMoreOnceAnotherOfItsKindCameBehindIt(): void
    {
        $this->begun();
        $run = $this->desk()->askOfShop('stocktaking', 'orla');
        $this->again($run)->fail('unexpected', [], new \DateTimeImmutable());
        $this->entities()->flush();
        $another = $this->desk()->askOfShop('stocktaking', 'orla');
        self::assertSame('run_not_standing', $this->reason($run, RunAct::GoOn));
        $this->work();
        self::assertSame(RunState::Failed, $this->again($run)->state());
        self::assertSame(RunState::Done, $this->again($another)->state());
    }

    public function testNobodyAsksForOneOfAnotherSubject(): void
    {
        $n = $this->begun();
        $asked = [
            fn () => $this->desk()->askOfShop('verification', 'orla'),
            fn () => $this->desk()->askOfBackup('any', 'stocktaking', 'orla'),
            fn () => $this->desk()->askOfBackup('any', 'restore', 'orla'),
            fn () => self::getContainer()->get(RunDesk::class)->ask(new MoveAt($n, 1), 'verification', 'orla'),
        ];
        foreach ($asked as $ask) {
            try {
                $ask();
                self::fail('It was taken.');
            } catch (Refusal $refusal) {
                self::assertSame('no_such_work', $refusal->reason);
            }
        }
        $run = $this->entities()->getRepository(Run::class)->findOneBy(['kind' => 'backup']) ?? self::fail();
        self::assertSame('run_over', $this->reason($run, RunAct::Cancel), 'A move’s is its tray’s affair.');
    }

    private function reason(Run $run, RunAct $act): string
    {
        try {
            $this->desk()->act(null, $run->id, $act, 'orla');
        } catch (Failure $failure) {
            return $failure->reason;
        }
        self::fail('It was done.');
    }

    private function begun(): int
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);

        return $n;
    }

    private function again(Run $run): Run
    {
        $this->entities()->clear();

        return $this->entities()->find(Run::class, $run->id) ?? self::fail('It is gone.');
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
