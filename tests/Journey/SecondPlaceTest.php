<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Origin;
use Geschenk\App\Entity\PlacedCopy;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Work\Erasing;
use Geschenk\App\Work\SecondPlace\BenchFirst;
use Geschenk\App\Work\SecondPlace\Mending;
use Geschenk\App\Work\SecondPlace\PlacePlan;
use Geschenk\App\Work\SecondPlace\PlaceWatch;
use Geschenk\App\Work\SecondPlace\PlacingKind;
use Geschenk\App\WorkLocks;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Seal\Keyring;
use Geschenk\Standin\Phone\IncomingMessage;
use Geschenk\Standin\Place\SecondDisk;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Phones;

/** What the shop keeps lies at a second place too: it mends what breaks here, and what is erased here goes there. */
final class SecondPlaceTest extends ApiTestCase
{
    private SecondDisk $disk;

    protected function setUp(): void
    {
        parent::setUp();
        $this->disk = self::getContainer()->get(SecondDisk::class);
    }

    public function testAllThatIsKeptIsThereAndMendsWhatBreaksHere(): void
    {
        [$n, $id] = $this->placed();
        $shown = $this->call('GET', '/api/second-place');
        self::assertSame([true, 2, 2, 0, 0, null, false], [
            $shown['is_set'], $shown['kept'], $shown['there'], $shown['not_whole'], $shown['to_erase'], $shown['run'],
            $shown['is_late'],
        ]);
        self::assertNotNull($shown['complete_at']);
        $one = $this->call('GET', "/api/cupboard/$id");
        self::assertSame([true, true, null], [
            $one['has_place'], $this->value($one, 'copy', 'is_whole'), $this->value($one, 'copy', 'gone_at'),
        ]);
        $this->expectNothingIsTold();
        // Nothing is put there twice, and nothing is asked for where nothing is to be done.
        $before = $this->there();
        self::assertCount(1, $this->runs());
        $this->place(2, '/api/second-place/runs');
        self::assertSame([], array_diff(
            $this->of($id, $before), $this->of($id, $this->there()),
        ), 'The same files.');

        // A byte, a file and the whole of it.
        $sealed = $this->folder($id);
        $chats = $this->lies($id, 'data/chats.sqlite');
        $whole = (string) file_get_contents($chats);
        foreach ([
            static fn () => file_put_contents($chats, substr_replace($whole, chr(ord($whole[5_000]) ^ 1), 5_000, 1)),
            static fn () => unlink($chats),
            static fn () => file_put_contents($sealed.'/00/stranger', 'not ours'),
            static fn () => Folder::discard($sealed),
        ] as $harm) {
            Folder::make($sealed.'/00');
            $harm();
            $this->call('POST', "/api/backups/$id/verify", null, 202);
            $this->work();
            self::assertNull($this->backup($id)->trouble());
            self::getContainer()->get(Vault::class)->verify($id);
            self::assertSame($whole, file_get_contents($chats));
        }
        $told = json_encode($this->value($this->call('GET', "/api/cupboard/$id"), 'history'), \JSON_THROW_ON_ERROR);
        self::assertStringContainsString('"mended"', $told);
        $this->signIn('orla');
        $log = (string) json_encode($this->call('GET', '/api/log'), \JSON_UNESCAPED_UNICODE);
        self::assertStringContainsString('Mended the backup of Otterpost with what lay at the second place', $log);
        self::assertSame($n, $this->backup($id)->tray->number);
    }

    public function testWhatIsErasedHereGoesThereAndSoDoItsKeys(): void
    {
        [$n, $id] = $this->placed();
        $this->handOver($n);
        $before = $this->there();
        // It is switched off while something is erased: that is owed, and said, until it is back.
        $this->disk->switchOff();
        $this->call('POST', "/api/trays/$n/erase", ['number' => "$n"], 202);
        self::getContainer()->get(Erasing::class)->do($n);
        self::assertNotNull($this->backup($id)->erasedAt());
        self::assertSame(2, $this->call('GET', '/api/second-place')['to_erase']);
        $this->round(RunState::Failed);
        $run = $this->call('GET', '/api/second-place')['run'];
        self::assertIsArray($run);
        self::assertStringContainsString('can’t be reached', $this->text($run, 'trouble'));
        $this->disk->switchOn();
        self::assertSame($before, $this->there());
        $this->call('POST', '/api/second-place/runs/'.$this->text($run, 'id').'/go-on', null, 202);
        $this->work();
        self::assertSame([null, 0, 0], array_values(array_intersect_key(
            $this->call('GET', '/api/second-place'), ['to_erase' => 1, 'there' => 1, 'run' => 1],
        )));
        self::assertSame([], $this->of($id, $this->there()));
        self::assertSame([], $this->of("tray-$n", $this->there()));
        $rings = array_filter($this->there(), static fn (string $path): bool => str_starts_with($path, 'keys/'));
        self::assertCount(1, $rings);
        $ring = (string) file_get_contents($this->disk->path().'/'.array_values($rings)[0]);
        self::assertStringNotContainsString($id, $ring);
        self::assertStringNotContainsString("tray-$n", $ring);
        self::assertSame(self::getContainer()->get(Keyring::class)->asItLies(), $ring);
        self::assertNotNull($this->copy($id)?->goneAt());
        self::assertNotNull($this->value($this->call('GET', "/api/cupboard/$id"), 'copy', 'gone_at'));
    }

    public function testAnotherDiskAtItsPlaceIsNotTakenForIt(): void
    {
        $this->placed();
        $files = $this->there();
        // Not mounted, an empty folder is all that is there.
        rename($this->disk->path(), $this->disk->path().'-away');
        Folder::make($this->disk->path());
        $this->place(2, '/api/second-place/runs', RunState::Failed);
        self::assertStringContainsString('not the second place that was begun', $this->trouble());
        self::assertSame([], $this->there(), 'Nothing was put there.');
        // Another shop's.
        file_put_contents($this->disk->path().'/mark', "geschenk second place 0f1e2d3c-0000-4000-8000-000000000001\n");
        $this->place(3, '/api/second-place/runs', RunState::Failed);
        self::assertStringContainsString('not the second place that was begun', $this->trouble());
        $this->refusal('POST', '/api/second-place/leave', null, 403);
        $this->signIn('orla');
        $this->call('POST', '/api/second-place/leave');
        $this->place(4, '/api/second-place/runs', RunState::Failed);
        self::assertStringContainsString('Another shop keeps its copies', $this->trouble());
        self::assertSame(['mark'], $this->there());
        // An empty one is begun anew, when the manager says so; the one from before is left as it is.
        unlink($this->disk->path().'/mark');
        $this->place(5, '/api/second-place/runs');
        self::assertSame(2, $this->call('GET', '/api/second-place')['there']);
        self::assertCount(count($files), $this->there());
        self::assertCount(count($files), iterator_to_array(Folder::files($this->disk->path().'-away'), false));
    }

    public function testKeysThatWereLostHereAreNotWrittenOverThere(): void
    {
        [, $id] = $this->placed();
        $ring = self::getContainer()->get(DataFolder::class)->keys().'/ring';
        $whole = (string) file_get_contents($ring);
        $told = (array) json_decode($whole, true);
        self::assertIsArray($told['keys']);
        unset($told['keys'][$id]);
        file_put_contents($ring, json_encode($told));
        touch($ring, 1_000_000_000);
        $this->place(2, '/api/second-place/runs', RunState::Failed);
        self::assertStringContainsString('keys of 1 backup', $this->trouble());
        $there = glob($this->disk->path().'/keys/*')[0] ?? self::fail('It is there.');
        self::assertStringContainsString($id, (string) file_get_contents($there));
        file_put_contents($ring, $whole);
        touch($ring, 1_000_000_001);
        $this->place(3, '/api/second-place/runs');
    }

    public function testItIsNotCalledCompleteWhileSomebodyWorksWithPartOfIt(): void
    {
        [$n] = $this->placed();
        $long = "UPDATE second_place SET complete_at = '2020-01-01 00:00:00'";
        $this->entities()->getConnection()->executeStatement($long);
        $before = $this->call('GET', '/api/second-place')['complete_at'];
        touch(self::getContainer()->get(DataFolder::class)->path."/trays/$n/moves/1/conversion.sealed/new");
        $move = $this->entities()->getRepository(Move::class)->findAll()[0] ?? self::fail('There is one.');
        $lock = self::getContainer()->get(WorkLocks::class)->ofMove($move);
        self::assertTrue($lock->acquire());
        $this->place(2, '/api/second-place/runs');
        self::assertSame($before, $this->call('GET', '/api/second-place')['complete_at']);
        $lock->release();
        $this->place(3, '/api/second-place/runs');
        self::assertGreaterThan($before, $this->call('GET', '/api/second-place')['complete_at']);
    }

    public function testWhatIsBrokenThereIsFoundAndPutThereAnew(): void
    {
        [, $id] = $this->placed();
        $path = $this->disk->path().'/'.$this->of($id, $this->there())[1];
        file_put_contents($path, 'x', \FILE_APPEND);
        // Its turn comes within a month.
        $this->entities()->getConnection()->executeStatement("UPDATE placed_copy SET read_at = '2020-01-01 00:00:00'");
        $this->place(2, '/api/second-place/runs');
        self::assertFalse($this->copy($id)?->isWhole());
        self::assertSame([1, 1], [
            $this->call('GET', '/api/second-place')['not_whole'], $this->call('GET', '/api/second-place')['there'],
        ]);
        $alone = $this->call('POST', '/api/cupboard/find', ['shown' => 'alone']);
        self::assertSame(1, $this->value($alone, 'counts', 'alone'));
        $this->place(3, '/api/second-place/runs');
        self::assertTrue($this->copy($id)?->isWhole());
        self::assertSame(0, $this->call('GET', '/api/second-place')['not_whole']);
    }

    public function testWhatWasOnlyBegunThereIsErasedToo(): void
    {
        [$n, $id] = $this->placed();
        $this->handOver($n);
        // As one that was killed in its first copy has left it.
        $begun = "UPDATE placed_copy SET state = '', is_whole = 0, files = 0 WHERE name IN ('$id', 'tray-$n')";
        $this->entities()->getConnection()->executeStatement($begun);
        self::assertNull($this->call('GET', "/api/cupboard/$id")['copy']);
        self::assertSame(0, $this->call('GET', '/api/second-place')['not_whole']);
        $this->call('POST', "/api/trays/$n/erase", ['number' => "$n"], 202);
        self::getContainer()->get(Erasing::class)->do($n);
        $this->place(2, '/api/second-place/runs');
        self::assertSame([], $this->of($id, $this->there()));
        self::assertSame([], $this->of("tray-$n", $this->there()));
    }

    public function testASafetyCopyThatNobodyNeedsAnyMoreGoesThereToo(): void
    {
        $this->disk->make();
        $this->signIn();
        $this->layPhones();
        $this->receiving = Phones::giving(
            self::getContainer()->get(DataFolder::class)->phones(), ['serial' => Phones::RECEIVING, 'model' => 'New'],
            false, 30,
        );
        $n = $this->openTray(laid: true);
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['merges' => true]);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $taken = $this->entities()->getRepository(Backup::class)->findBy(['origin' => Origin::SafetyCopy]);
        self::assertCount(1, $taken);
        $this->round();
        self::assertNotSame([], $this->of($taken[0]->id, $this->there()));
        // What has come in meanwhile is copied anew: the one from before is of no use.
        IncomingMessage::comes($this->receiving, 'otterpost');
        $this->look();
        $this->askAndWork($n, ['kind' => 'conversion']);
        self::assertSame('restore', $this->move($n)['stage']);
        self::assertTrue(self::getContainer()->get(PlacePlan::class)->isPressing());
        // Whoever was reading it back just then brings nothing of it back.
        self::assertNull(self::getContainer()->get(Mending::class)->mend($taken[0]->id, new NoProgress()));
        self::assertDirectoryDoesNotExist($this->folder($taken[0]->id));
        $this->round();
        self::assertSame([], $this->of($taken[0]->id, $this->there()));
        self::assertNull($this->copy($taken[0]->id));
        self::assertSame([2, 2], [
            $this->call('GET', '/api/second-place')['kept'], $this->call('GET', '/api/second-place')['there'],
        ]);
    }

    public function testItMakesRoomForWhoeverWaitsAtTheBench(): void
    {
        $this->disk->make();
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'conversion'], 202);
        $waiting = $this->runsOf('conversion');
        $this->lookRound();
        $run = $this->runs()[0] ?? self::fail('It was asked for.');
        // The conversion is queued: the copy waits, whichever a worker comes upon first.
        $handler = self::getContainer()->get(PlacingKind::class);
        try {
            $handler->ensurePossible($run);
            self::fail('Somebody waits.');
        } catch (BenchFirst $first) {
            self::assertSame('bench_first', $first->reason);
        }
        self::assertCount(1, $waiting);
        $this->work();
        $this->work();
        self::assertSame(RunState::Done, ($this->runs()[0] ?? self::fail('It was asked for.'))->state());
    }

    /** @return array{int, string} number of a tray and the id of its backup, of which a copy lies there */
    private function placed(): array
    {
        $this->disk->make();
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $id = $this->text($this->move($n), 'backup', 'id');
        $this->round();

        return [$n, $id];
    }

    /** Whoever looks there finds no text, no name, no path of anybody's. */
    private function expectNothingIsTold(): void
    {
        $planted = ['Otterpost', 'SQLite format', 'chats.sqlite', 'customer', 'GIVES0001'];
        foreach ($this->there() as $path) {
            $lies = (string) file_get_contents($this->disk->path().'/'.$path);
            foreach ($planted as $one) {
                self::assertStringNotContainsString($one, $lies, $path);
            }
        }
    }

    private function round(RunState $ends = RunState::Done): void
    {
        $this->lookRound();
        $this->work();
        self::assertSame($ends, $this->newest()->state(), (string) $this->newest()->trouble());
    }

    /** As if ten minutes had gone by since the last one. */
    private function lookRound(): void
    {
        $this->entities()->getConnection()->executeStatement(
            "UPDATE run SET finished_at = '2020-01-01', asked_at = '2020-01-01 00:00:00' WHERE kind = 'placing'",
        );
        $this->entities()->clear();
        self::getContainer()->get(PlaceWatch::class)->look();
    }

    private function place(int $count, string $path, RunState $ends = RunState::Done): void
    {
        $this->call('POST', $path, null, 202);
        $this->work();
        self::assertCount($count, $this->runs());
        self::assertSame($ends, $this->newest()->state(), (string) $this->newest()->trouble());
    }

    private function trouble(): string
    {
        $run = $this->call('GET', '/api/second-place')['run'];
        self::assertIsArray($run);

        return $this->text($run, 'trouble');
    }

    private function newest(): Run
    {
        $runs = $this->runs();

        return end($runs) ?: self::fail('Nothing was asked for.');
    }

    /** @return list<Run> */
    private function runs(): array
    {
        return $this->runsOf(PlacingKind::name());
    }

    /** @return list<Run> */
    private function runsOf(string $kind): array
    {
        $this->entities()->clear();

        return $this->entities()->getRepository(Run::class)->findBy(['kind' => $kind], ['counter' => 'ASC']);
    }

    /** @return list<string> paths of all files there */
    private function there(): array
    {
        return iterator_to_array(Folder::files($this->disk->path()), false);
    }

    /**
     * @param list<string> $paths
     *
     * @return list<string> those of one copy
     */
    private function of(string $name, array $paths): array
    {
        return array_values(array_filter($paths, static fn (string $path): bool => str_contains($path, "/$name/")));
    }

    private function folder(string $id): string
    {
        return self::getContainer()->get(DataFolder::class)->backups()."/$id.sealed";
    }

    private function backup(string $id): Backup
    {
        $this->entities()->clear();

        return $this->entities()->find(Backup::class, $id) ?? self::fail('There is no such backup.');
    }

    private function copy(string $id): ?PlacedCopy
    {
        $this->entities()->clear();

        return $this->entities()->find(PlacedCopy::class, $id);
    }

    private function entities(): EntityManagerInterface
    {
        return self::getContainer()->get(EntityManagerInterface::class);
    }
}
