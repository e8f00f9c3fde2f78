<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Pace;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Entity\StopWish;
use Geschenk\App\Runs\Kinds;
use Geschenk\App\Tray\Time\Forecast;
use Geschenk\App\Tray\Time\Paces;
use Geschenk\App\Work\Foreman;
use Geschenk\App\Work\Restore\RestoreKind;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Standin\Phone\Hands;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Phones;
use PHPUnit\Framework\Attributes\DataProvider;

/** A run is paused and goes on; it is cancelled and says what it leaves; how long it takes is measured. */
final class StoppingTest extends ApiTestCase
{
    public function testAPausedBackupGoesOnWhereItWas(): void
    {
        $n = $this->interruptedBackup();
        $id = $this->runs($n, 'id');
        $this->call('POST', "/api/trays/$n/moves/1/runs/$id/pause", null, 202);
        self::assertSame('paused', $this->runs($n, 'state'));
        self::assertStringContainsString('Paused by jette', $this->runs($n, 'trouble'));
        $progress = $this->value($this->call('GET', "/api/trays/$n"), 'moves', 0, 'run', 'progress');
        self::assertNull(is_array($progress) ? $progress['seconds_left'] : false, 'Nothing moves.');
        self::assertSame('person', $this->value($this->call('GET', "/api/trays/$n"), 'waits', 'for'));
        Hands::do($this->giving, 'plug');
        $this->work();
        self::assertSame('paused', $this->runs($n, 'state'), 'It does not go on by itself.');
        $this->call('POST', "/api/trays/$n/moves/1/runs/$id/pause", null, 422);
        $kept = iterator_to_array(Folder::files($this->begun($id), 'data/raw/parcels'), false);
        self::assertNotEmpty($kept);
        $this->call('POST', "/api/trays/$n/moves/1/runs/$id/go-on", [], 202);
        $this->work();
        self::assertSame('done', $this->runs($n, 'state'));
    }

    public function testACancelledBackupIsRemovedAndSaysSo(): void
    {
        $n = $this->interruptedBackup();
        $id = $this->runs($n, 'id');
        self::assertDirectoryExists($this->begun($id));
        $this->call('POST', "/api/trays/$n/moves/1/runs/$id/cancel", null, 202);
        self::assertSame('cancelling', $this->runs($n, 'state'));
        $this->call('POST', "/api/trays/$n/moves/1/runs/$id/cancel", null, 422);
        $this->call('POST', "/api/trays/$n/moves/1/runs/$id/pause", null, 422);
        $this->work();
        self::assertSame('cancelled', $this->runs($n, 'state'));
        self::assertMatchesRegularExpression(
            '/Cancelled by jette\. [\d.]+ kB that had been copied are removed\. Nothing is left/', $this->runs(
                $n, 'trouble',
            ),
        );
        self::assertDirectoryDoesNotExist($this->begun($id));
        self::assertSame([], glob(self::getContainer()->get(DataFolder::class)->backups().'/'.$id.'*'));
        $this->call('POST', "/api/trays/$n/moves/1/runs/$id/go-on", [], 422);
        // A new one begins from the start.
        Hands::do($this->giving, 'plug');
        $this->askAndWork($n, ['kind' => 'backup']);
        self::assertSame('done', $this->runs($n, 'state'));
        $acts = array_column((array) ($this->log()['entries'] ?? []), 'act');
        self::assertContains('cancelled', $acts);
    }

    public function testWhatWasOnlyBegunIsGoneWithTheHandOver(): void
    {
        $n = $this->interruptedBackup();
        $id = $this->runs($n, 'id');
        $this->call('POST', "/api/trays/$n/moves/1/runs/$id/pause", null, 202);
        Hands::do($this->giving, 'plug');
        // Somebody began anew instead.
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertDirectoryExists($this->begun($id));
        $this->handOver($n);
        self::assertDirectoryDoesNotExist($this->begun($id));
    }

    public function testACancelledRestoreCleansThePhoneOnceItIsThere(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $before = Phones::fingerprint($this->receiving->data('otterpost'));
        Phones::plan($this->receiving, ['on' => 'push', 'do' => 'unplug', 'after_bytes' => 200_000]);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertSame('waiting', $this->runs($n, 'state'));
        $id = $this->runs($n, 'id');
        $this->call('POST', "/api/trays/$n/moves/1/runs/$id/cancel", null, 202);
        $this->work();
        self::assertSame('cancelled', $this->runs($n, 'state'));
        self::assertStringContainsString("Phone $n-B was away and still holds", $this->runs($n, 'trouble'));
        self::assertSame('restore', $this->value($this->call('GET', "/api/trays/$n"), 'moves', 0, 'stage'));
        self::assertDirectoryExists($this->receiving->stage('otterpost', $id));
        // The foreman sends a worker until it is clean.
        Hands::do($this->receiving, 'plug');
        $this->watch();
        $this->work();
        $this->entities()->clear();
        self::assertDirectoryDoesNotExist($this->receiving->stage('otterpost', $id));
        self::assertStringContainsString('Nothing is left of it', $this->runs($n, 'trouble'));
        self::assertSame($before, Phones::fingerprint($this->receiving->data('otterpost')));
        // And the way on is open.
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertSame(['check', 'done'], [$this->runs($n, 'kind'), $this->runs($n, 'state')]);
    }

    public function testWhatIsInPlaceAlreadyIsBroughtToItsEnd(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $restore = $this->entities()->getRepository(Run::class)->findOneBy(['kind' => RestoreKind::name()])
            ?? self::fail();
        // As if its worker had been killed behind the swap, before it could say so.
        $connection = $this->entities()->getConnection();
        $connection->executeStatement("UPDATE run SET state = 'waiting' WHERE id = ?", [$restore->id]);
        $connection->executeStatement("DELETE FROM run WHERE kind = 'check' AND id NOT IN (SELECT run_id FROM move)");
        $connection->executeStatement('UPDATE move SET run_id = ?', [$restore->id]);
        $connection->executeStatement('UPDATE bringing SET restored_at = NULL');
        $this->entities()->clear();
        $this->call('POST', "/api/trays/$n/moves/1/runs/{$restore->id}/cancel", null, 202);
        $this->work();
        self::assertSame(['check', 'done'], [$this->runs($n, 'kind'), $this->runs($n, 'state')]);
        $tray = $this->call('GET', "/api/trays/$n");
        self::assertTrue($this->value($tray, 'moves', 0, 'checks', 0, 'totals', 'complete'));
    }

    /** @return iterable<string, array{StopWish, RunState}> */
    public static function wishes(): iterable
    {
        yield 'pause' => [StopWish::Pause, RunState::Paused];
        yield 'cancel' => [StopWish::Cancel, RunState::Cancelled];
    }

    /** The worker is at it, and its phone goes before it sees the wish. */
    #[DataProvider('wishes')]
    public function testAWishIsHeededThoughThePhoneGoes(StopWish $wish, RunState $then): void
    {
        $n = $this->interruptedBackup();
        $run = $this->latest();
        $this->entities()->getConnection()->executeStatement(
            "UPDATE run SET state = 'working', stop_wish = ?, stopped_by = 'orla' WHERE id = ?",
            [$wish->value, $run->id],
        );
        $this->work();
        self::assertSame($then, $this->latest()->state());
        self::assertStringContainsString('by orla', $this->runs($n, 'trouble'));
    }

    public function testHowLongItTakesIsMeasuredAndUnknownBefore(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->look();
        $forecast = self::getContainer()->get(Forecast::class);
        $this->askAndWork($n, ['kind' => 'backup']);
        $backup = $this->latest();
        $this->entities()->getConnection()->executeStatement('DELETE FROM pace');
        $paces = self::getContainer()->get(Paces::class);
        $paces->reset();
        $backup->phase = 'pulling';
        self::assertNull($forecast->secondsLeft($backup, 5.0), 'Nobody has measured the reading yet.');
        $units = $paces->units($backup->move());
        self::assertGreaterThan(0, $units['messages']);
        $paces->learn($backup, [
            'pulling' => ['seconds' => 10.0, 'bytes' => 1_000_000], 'reading' => ['seconds' => 20.0, 'bytes' => null],
            'packing' => ['seconds' => 3.0, 'bytes' => null],
        ]);
        $this->entities()->flush();
        $paces->reset();
        self::assertSame(28, $forecast->secondsLeft($backup, 5.0), 'What is left of it, the reading and the packing.');
        $backup->phase = 'packing';
        self::assertSame(3, $forecast->secondsLeft($backup, null));
        self::assertEqualsWithDelta(100_000, $paces->ofCable(Phones::GIVING), 1);
        self::assertNull($paces->ofCable(Phones::RECEIVING));
        // Steady: one slow time counts half.
        $paces->learn($backup, ['pulling' => ['seconds' => 20.0, 'bytes' => 1_000_000]]);
        $this->entities()->flush();
        $paces->reset();
        self::assertEqualsWithDelta(75_000, $paces->ofCable(Phones::GIVING), 1);
        // What took no time tells nothing.
        $paces->learn($backup, ['pulling' => ['seconds' => 0.01, 'bytes' => 1_000_000]]);
        self::assertEqualsWithDelta(75_000, $paces->ofCable(Phones::GIVING), 1);
    }

    public function testWhatAChoiceTakesIsTheWholeJobWithTheCopyOfWhatIsThere(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->look();
        $this->entities()->getConnection()->executeStatement("DELETE FROM pace WHERE kind <> 'backup'");
        $seconds = fn (): mixed => $this->value($this->call('GET', "/api/trays/$n/moves/1/scope"), 'sum', 'seconds');
        self::assertNull($seconds(), 'Nobody has measured it yet.');
        $move = $this->latest()->move();
        foreach (self::getContainer()->get(Kinds::class)->across() as $kind) {
            foreach ($kind->phases($move) as $phase) {
                $serial = $phase->isOnPhone ? Phones::RECEIVING : '';
                $this->entities()->persist(new Pace($kind::name(), $phase->name, $serial, 10.0));
            }
        }
        $this->entities()->flush();
        $paces = self::getContainer()->get(Paces::class);
        $paces->reset();
        $units = $paces->units($this->latest()->move());
        self::assertGreaterThan(0, $units['held']);
        // Verified, sealed, staged, verified, listed, read back; and planned, written, read, compared, compared.
        $expected = (6 * (int) $units['bytes'] + 5 * (int) $units['messages'] + $units['held']) / 10.0;
        self::assertSame((int) ceil($expected), $seconds());
    }

    public function testAnotherPhoneOfItsMakeInItsPlaceIsNamed(): void
    {
        $n = $this->interruptedBackup();
        $folder = dirname($this->giving->path);
        rename($this->giving->path, $folder.'/../away');
        Phones::giving($folder, ['serial' => 'LOOKALIKE1'], false, 5);
        $this->watch();
        $this->work();
        self::assertStringContainsString("In the place of phone $n-A lies another", $this->runs($n, 'trouble'));
        self::assertStringContainsString('LOOKALIKE1', $this->runs($n, 'trouble'));
        self::assertTrue(rename($folder.'/../away', $this->giving->path));
        Hands::do($this->giving, 'plug');
        $this->watch();
        $this->work();
        self::assertSame('done', $this->runs($n, 'state'));
    }

    private function interruptedBackup(): int
    {
        $this->signIn();
        $n = $this->openTray();
        Phones::plan($this->giving, ['on' => 'pull', 'do' => 'unplug', 'after_bytes' => 400_000]);
        $this->askAndWork($n, ['kind' => 'backup']);
        self::assertSame('waiting', $this->runs($n, 'state'));

        return $n;
    }

    private function begun(string $id): string
    {
        return self::getContainer()->get(DataFolder::class)->backups().'/'.$id.'.part';
    }

    private function runs(int $tray, string $field): string
    {
        return $this->text($this->call('GET', "/api/trays/$tray"), 'moves', 0, 'run', $field);
    }

    /** @return array<array-key, mixed> */
    private function log(): array
    {
        $this->signIn('orla');

        return $this->call('GET', '/api/log');
    }

    private function latest(): Run
    {
        $this->entities()->clear();

        return $this->entities()->getRepository(Run::class)->findOneBy([], ['counter' => 'DESC']) ?? self::fail();
    }

    private function entities(): EntityManagerInterface
    {
        return self::getContainer()->get(EntityManagerInterface::class);
    }
}
