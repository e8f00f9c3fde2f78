<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Work\VerifyBackup;
use Geschenk\App\Work\Verifying;
use Geschenk\App\WorkLocks;
use Geschenk\Tests\App\ApiTestCase;
use Symfony\Component\Messenger\Transport\InMemory\InMemoryTransport;

/** A kept backup is read back on demand; what was found is kept, and shown. */
final class VerifyBackupTest extends ApiTestCase
{
    public function testItIsWholeUntilAByteOfItIsNot(): void
    {
        [$n, $id] = $this->kept();
        $one = $this->listed($n);
        self::assertSame([$one['taken_at'], false, null], [$one['verified_at'], $one['verifying'], $one['trouble']]);
        $this->call('POST', "/api/backups/$id/verify", null, 202);
        self::assertSame([$id], $this->asked());
        self::assertTrue($this->listed($n)['verifying']);
        $this->call('POST', "/api/backups/$id/verify", null, 202);
        self::assertSame([], $this->asked(), 'Once is enough.');
        $this->verifying()->do($id);
        $one = $this->listed($n);
        self::assertSame([false, null], [$one['verifying'], $one['trouble']]);
        self::assertGreaterThanOrEqual($one['taken_at'], $one['verified_at']);

        $chats = self::getContainer()->get(DataFolder::class)->backups()."/$id/data/chats.sqlite";
        $whole = (string) file_get_contents($chats);
        file_put_contents($chats, substr_replace($whole, chr(ord($whole[5_000]) ^ 1), 5_000, 1));
        $this->call('POST', "/api/backups/$id/verify", null, 202);
        $this->verifying()->do($id);
        $trouble = $this->listed($n)['trouble'];
        self::assertIsString($trouble);
        self::assertStringContainsString('data/chats.sqlite', $trouble);
        self::assertStringNotContainsString('/backups', $trouble, 'Where the shop keeps it is nobody’s affair.');
        $this->signIn('orla');
        self::assertStringContainsString(
            'Read the backup of Otterpost back: it is not as it was kept',
            (string) json_encode($this->call('GET', '/api/log')),
        );
        // Mended, from a copy that the shop has elsewhere.
        file_put_contents($chats, $whole);
        $this->call('POST', "/api/backups/$id/verify", null, 202);
        $this->verifying()->do($id);
        self::assertNull($this->listed($n)['trouble']);
    }

    public function testNobodyErasesItMeanwhileAndWhatIsErasedIsNotReadBack(): void
    {
        [$n, $id] = $this->kept();
        $locks = self::getContainer()->get(WorkLocks::class);
        $this->call('POST', "/api/backups/$id/verify", null, 202);
        $erasing = $locks->ofErasing($n);
        self::assertTrue($erasing->acquire());
        $this->verifying()->do($id);
        self::assertTrue($this->listed($n)['verifying'], 'Asked for again when the other is over.');
        $erasing->release();
        self::assertSame([], $this->handedOutAgain());
        self::getContainer()->get(EntityManagerInterface::class)->getConnection()->executeStatement(
            'UPDATE backup SET verify_asked_at = ? WHERE id = ?', ['2026-01-01 00:00:00', $id],
        );
        self::assertSame([$id], $this->handedOutAgain());
        $this->call('POST', "/api/backups/$id/erase", ['number' => "$n"], 202);
        self::assertSame([], $this->handedOutAgain());
        $this->verifying()->do($id);
        self::assertSame('erased', $this->refusal('POST', "/api/backups/$id/verify", null, 404));
        $this->call('POST', '/api/backups/nobody/verify', null, 404);
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
        $backup = self::getContainer()->get(EntityManagerInterface::class)->getRepository(Backup::class)
            ->findOneBy([], ['counter' => 'ASC']);
        self::assertNotNull($backup);

        return [$n, $backup->id];
    }

    /** @return array<array-key, mixed> */
    private function listed(int $n): array
    {
        $one = $this->value($this->call('GET', "/api/trays/$n"), 'keeping', 'list', 0);
        self::assertIsArray($one);

        return $one;
    }

    /** @return list<string> ids of backups that workers were asked to read back */
    private function asked(): array
    {
        $transport = self::getContainer()->get('messenger.transport.runs');
        self::assertInstanceOf(InMemoryTransport::class, $transport);
        $ids = [];
        foreach ($transport->getSent() as $envelope) {
            $message = $envelope->getMessage();
            $ids = [...$ids, ...($message instanceof VerifyBackup ? [$message->id] : [])];
        }

        return $ids;
    }

    /** @return list<string> */
    private function handedOutAgain(): array
    {
        $before = count($this->asked());
        $this->verifying()->due();

        return array_slice($this->asked(), $before);
    }

    private function verifying(): Verifying
    {
        return self::getContainer()->get(Verifying::class);
    }
}
