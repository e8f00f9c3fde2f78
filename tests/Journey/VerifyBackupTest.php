<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\RunState;
use Geschenk\App\WorkLocks;
use Geschenk\Tests\App\ApiTestCase;

/** A kept backup is read back on demand; what was found is kept, and shown. */
final class VerifyBackupTest extends ApiTestCase
{
    public function testItIsWholeUntilAByteOfItIsNot(): void
    {
        [$n, $id] = $this->kept();
        $one = $this->listed($n);
        self::assertSame([$one['taken_at'], null, null], [$one['verified_at'], $one['run'], $one['trouble']]);
        $this->call('POST', "/api/backups/$id/verify", null, 202);
        $run = $this->open($n);
        self::assertSame(['verification', 'queued', null], [$run['kind'], $run['state'], $run['tag']]);
        self::assertSame(['pause', 'cancel'], $run['may']);
        self::assertSame(['keep', 'erase'], $this->acts($n), 'What is under way is not asked for.');
        $this->call('POST', "/api/backups/$id/verify", null, 202);
        self::assertSame($run, $this->open($n), 'Once is enough.');
        $this->work();
        $one = $this->listed($n);
        self::assertSame([null, null], [$one['run'], $one['trouble']]);
        self::assertGreaterThanOrEqual($one['taken_at'], $one['verified_at']);
        self::assertSame(['verify', 'lock', 'keep', 'erase'], $this->acts($n));
        $read = $this->backup($id)->run() ?? self::fail('It was read.');
        self::assertSame(['reading_back', true], [$read->phase, $read->bytesTotal > 1_000]);

        $chats = $this->lies($id, 'data/chats.sqlite');
        $whole = (string) file_get_contents($chats);
        file_put_contents($chats, substr_replace($whole, chr(ord($whole[5_000]) ^ 1), 5_000, 1));
        $this->verify($id);
        $trouble = $this->listed($n)['trouble'];
        self::assertIsString($trouble);
        self::assertStringContainsString('data/chats.sqlite', $trouble);
        self::assertStringNotContainsString('/backups', $trouble, 'Where the shop keeps it is nobody’s affair.');
        $this->signIn('orla');
        $log = (string) json_encode($this->call('GET', '/api/log'));
        self::assertStringContainsString('Read the backup of Otterpost back: it is not as it was kept', $log);
        self::assertStringContainsString('Asked for the reading back of Otterpost', $log);
        // Mended, from a copy that the shop has elsewhere.
        file_put_contents($chats, $whole);
        $this->verify($id);
        self::assertNull($this->listed($n)['trouble']);
    }

    public function testItRestsGoesOnAndIsCancelledByWhoeverSaysSo(): void
    {
        [$n, $id] = $this->kept();
        $before = $this->listed($n)['verified_at'];
        $this->call('POST', "/api/backups/$id/verify", null, 202);
        $path = "/api/backups/$id/runs/".$this->text($this->open($n), 'id');
        $this->call('POST', "$path/pause", null, 202);
        self::assertSame([['go_on', 'cancel'], 'paused'], [$this->open($n)['may'], $this->open($n)['state']]);
        $this->work();
        self::assertSame('paused', $this->open($n)['state']);
        self::assertSame(
            'Paused by jette. When it continues it begins from the start.', $this->open($n)['trouble'],
        );
        self::assertSame('run_over', $this->refusal('POST', "$path/pause", null));
        $this->call('POST', "$path/go-on", null, 202);
        $this->call('POST', "$path/cancel", null, 202);
        $this->work();
        self::assertSame([null, $before], [$this->listed($n)['run'], $this->listed($n)['verified_at']]);
        self::assertSame('run_not_standing', $this->refusal('POST', "$path/go-on", null));
        [, $other] = $this->keptToo();
        $another = "/api/backups/$other/runs/".basename($path);
        self::assertSame('run_over', $this->refusal('POST', "$another/cancel", null), 'It is of another backup.');
        // One whose worker was killed is taken up anew.
        $this->call('POST', "/api/backups/$id/verify", null, 202);
        ($this->backup($id)->run() ?? self::fail('Nothing was asked for.'))->begin();
        $this->entities()->flush();
        $this->work();
        self::assertNull($this->listed($n)['run']);
        self::assertSame(RunState::Done, $this->backup($id)->run()?->state());
    }

    public function testNobodyErasesItMeanwhileAndWhatIsErasedIsNotReadBack(): void
    {
        [$n, $id] = $this->kept();
        $locks = self::getContainer()->get(WorkLocks::class);
        $this->call('POST', "/api/backups/$id/verify", null, 202);
        $erasing = $locks->ofErasing($n);
        self::assertTrue($erasing->acquire());
        $this->work();
        self::assertSame('queued', $this->open($n)['state'], 'Handed out again when the other is over.');
        $erasing->release();
        // Whoever has it erased ends what is under way of it.
        $this->call('POST', "/api/backups/$id/erase", ['number' => "$n"], 202);
        $this->work();
        self::assertSame(RunState::Cancelled, $this->backup($id)->run()?->state());
        self::assertSame('erased', $this->refusal('POST', "/api/backups/$id/verify", null, 404));
        $this->call('POST', '/api/backups/nobody/verify', null, 404);
        self::assertSame([], $this->handedOut());
    }

    /** @return array{int, string} number of a closed tray, and the id of its backup */
    private function kept(): array
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $this->handOver($n);

        return [$n, $this->newestOf($n)];
    }

    /** @return array{int, string} the same once more, on the same bench */
    private function keptToo(): array
    {
        $n = $this->openTray(true);
        $this->askAndWork($n, ['kind' => 'backup']);

        return [$n, $this->newestOf($n)];
    }

    private function newestOf(int $n): string
    {
        $dql = 'SELECT b FROM '.Backup::class.' b JOIN b.tray t WHERE t.number = :n ORDER BY b.counter';
        $backups = $this->entities()->createQuery($dql)->setParameter('n', $n)->getResult();
        self::assertIsArray($backups);
        self::assertInstanceOf(Backup::class, $backups[0] ?? null);

        return $backups[0]->id;
    }

    /** @return array<array-key, mixed> */
    private function listed(int $n): array
    {
        $one = $this->value($this->call('GET', "/api/trays/$n"), 'keeping', 'list', 0);
        self::assertIsArray($one);

        return $one;
    }

    /** @return array<array-key, mixed> what is under way of the first backup of a tray */
    private function open(int $n): array
    {
        $run = $this->listed($n)['run'];
        self::assertIsArray($run);

        return $run;
    }

    /** @return list<mixed> */
    private function acts(int $n): array
    {
        $may = $this->listed($n)['may'];
        self::assertIsArray($may);

        return array_column($may, 'act');
    }

    private function verify(string $id): void
    {
        $this->call('POST', "/api/backups/$id/verify", null, 202);
        $this->work();
    }

    private function backup(string $id): Backup
    {
        $this->entities()->clear();

        return $this->entities()->find(Backup::class, $id) ?? self::fail('There is no such backup.');
    }

    private function entities(): EntityManagerInterface
    {
        return self::getContainer()->get(EntityManagerInterface::class);
    }
}
