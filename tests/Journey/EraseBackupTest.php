<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\BackupState;
use Geschenk\App\Work\EraseBackup;
use Geschenk\App\Work\Erasing;
use Geschenk\Core\Archive\Vault;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Phones;
use Symfony\Component\Messenger\Transport\InMemory\InMemoryTransport;

/** One backup of several is erased by itself, and its record stays. */
final class EraseBackupTest extends ApiTestCase
{
    public function testOneGoesAndTheOtherStaysAndCanBeBrought(): void
    {
        [$n, [$first, $second]] = $this->kept();
        $path = "/api/backups/$first/erase";
        self::assertSame('wrong_number', $this->refusal('POST', $path, ['number' => '7']));
        $this->call('POST', '/api/backups/nobody/erase', ['number' => "$n"], 404);
        $tray = $this->call('POST', $path, ['number' => " $n "], 202);
        self::assertSame([['erasing', []], ['kept', ['verify', 'lock', 'keep', 'erase']]], $this->listed($tray));
        self::assertSame('erased', $this->refusal('GET', "/api/backups/$first/conversations", null, 404));
        self::assertSame([$second], $this->found());
        $this->erasing()->doBackup($first);
        $tray = $this->call('GET', "/api/trays/$n");
        self::assertSame([['erased', []], ['kept', ['verify', 'lock', 'keep', 'erase']]], $this->listed($tray));
        $one = $this->value($tray, 'keeping', 'list', 0);
        self::assertIsArray($one);
        self::assertSame(['jette', false], [$one['erased_by'], $one['is_there']]);
        self::assertGreaterThan(3, $one['files']);
        self::assertSame(1, $this->value($tray, 'keeping', 'backups'));
        $vault = self::getContainer()->get(Vault::class);
        self::assertSame([], array_filter($vault->places($first), file_exists(...)));
        $vault->verify($second);
        $this->signIn('orla');
        $told = (string) json_encode([$this->call('GET', "/api/trays/$n"), $this->call('GET', '/api/log')]);
        foreach (['The backup of Otterpost was erased', 'Erased the backup of Otterpost'] as $words) {
            self::assertStringContainsString($words, $told);
        }
        self::assertSame('erased', $this->refusal('POST', $path, ['number' => "$n"], 404));
        $this->browser->request('GET', "/trays/$n/sheet");
        $sheet = (string) $this->browser->getResponse()->getContent();
        self::assertSame([false, true], [str_contains($sheet, $first), str_contains($sheet, $second)]);

        // The other is brought; while it is, it stays.
        $this->look();
        $later = $this->call('POST', '/api/trays', [
            'customer' => 'Test Person', 'contact' => 'the café', 'consent' => true, 'errand' => 'bring_kept',
            'backups' => [$second], 'receiving' => Phones::RECEIVING,
        ], 201)['number'];
        self::assertIsInt($later);
        self::assertSame(
            'backup_being_brought', $this->refusal('POST', "/api/backups/$second/erase", ['number' => "$n"]),
        );
        self::assertNotNull($this->value($this->call('GET', "/api/trays/$n"), 'keeping', 'list', 1, 'may', 3, 'why'));
        $this->askAndWork($later, ['kind' => 'conversion']);
        $this->askAndWork($later, ['kind' => 'restore', 'confirmed_tag' => "$later-A"]);
        self::assertTrue($this->value($this->move($later), 'arrival', 'complete'));
        $this->handOver($later);

        // What the phone held before goes with its tray.
        $copy = $this->backups()[2];
        self::assertTrue($copy->isSafetyCopy());
        $this->call('POST', "/api/backups/{$copy->id}/erase", ['number' => "$later"], 404);
        // The rest of the tray: what is gone already is not counted again.
        $this->call('POST', "/api/trays/$n/erase", ['number' => "$n"], 202);
        $this->erasing()->do($n);
        $keeping = $this->value($this->call('GET', "/api/trays/$n"), 'keeping');
        self::assertIsArray($keeping);
        self::assertNotContains($first, array_column((array) $keeping['erased'], 'id'));
        self::assertContains($second, array_column((array) $keeping['erased'], 'id'));
        self::assertSame(
            [BackupState::Erased, BackupState::Erased],
            array_map(static fn (Backup $backup): BackupState => $backup->state(), array_slice($this->backups(), 0, 2)),
        );
    }

    public function testItIsNotForATrayThatIsOpen(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $id = $this->backups()[0]->id;
        self::assertSame('erase_after_hand_over', $this->refusal('POST', "/api/backups/$id/erase", ['number' => "$n"]));
    }

    public function testOneThatWasInterruptedIsBroughtToItsEnd(): void
    {
        [$n, [$first, $second]] = $this->kept();
        $this->call('POST', "/api/backups/$first/erase", ['number' => "$n"], 202);
        // As by a worker that was killed behind the removing, and before it could say so.
        $vault = self::getContainer()->get(Vault::class);
        $this->entities()->clear();
        $backup = $this->entities()->find(Backup::class, $first);
        self::assertNotNull($backup);
        $backup->erases(['files' => 12, 'bytes' => 3_456]);
        $this->entities()->flush();
        $vault->discard($first);
        self::assertSame('erasing', $this->value($this->call('GET', "/api/trays/$n"), 'keeping', 'list', 0, 'state'));
        $this->entities()->getConnection()->executeStatement(
            'UPDATE backup SET erase_asked_at = ? WHERE id = ?', ['2026-01-01 00:00:00', $first],
        );
        self::assertContains($first, $this->handedOutAgain());
        $this->erasing()->doBackup($first);
        $one = $this->value($this->call('GET', "/api/trays/$n"), 'keeping', 'list', 0);
        self::assertIsArray($one);
        self::assertSame(['erased', 12], [$one['state'], $one['files']], 'What there was before.');
        $this->erasing()->doBackup($first);
        $vault->verify($second);
    }

    /** @return array{int, array{string, string}} number of a closed tray, and what it keeps */
    private function kept(): array
    {
        $this->signIn();
        $this->layPhones();
        $tray = $this->call('POST', '/api/trays', [
            'customer' => 'Test Person', 'contact' => 'the café', 'consent' => true, 'errand' => 'only_back_up',
            'giving' => Phones::GIVING,
        ], 201);
        $n = $tray['number'];
        self::assertIsInt($n);
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->handOver($n);
        $ids = array_map(static fn (Backup $backup): string => $backup->id, $this->backups());
        self::assertCount(2, $ids);

        return [$n, [$ids[0], $ids[1]]];
    }

    /**
     * @param array<array-key, mixed> $tray
     *
     * @return list<array{mixed, list<mixed>}> state and acts of each
     */
    private function listed(array $tray): array
    {
        return array_map(fn (mixed $one): array => [
            $this->value((array) $one, 'state'), array_column((array) $this->value((array) $one, 'may'), 'act'),
        ], array_values((array) $this->value($tray, 'keeping', 'list')));
    }

    /** @return list<mixed> ids of what is offered to be brought */
    private function found(): array
    {
        return array_column((array) $this->call('POST', '/api/backups/find', ['words' => ''])['backups'], 'id');
    }

    /** @return list<string> ids of backups whose erasing the watch hands out once more */
    private function handedOutAgain(): array
    {
        $transport = self::getContainer()->get('messenger.transport.looks');
        self::assertInstanceOf(InMemoryTransport::class, $transport);
        $before = count($transport->getSent());
        $this->erasing()->due();
        $ids = [];
        foreach (array_slice($transport->getSent(), $before) as $envelope) {
            $message = $envelope->getMessage();
            $ids[] = $message instanceof EraseBackup ? $message->id : '';
        }

        return $ids;
    }

    /** @return list<Backup> */
    private function backups(): array
    {
        $this->entities()->clear();

        return $this->entities()->getRepository(Backup::class)->findBy([], ['counter' => 'ASC']);
    }

    private function erasing(): Erasing
    {
        return self::getContainer()->get(Erasing::class);
    }

    private function entities(): EntityManagerInterface
    {
        return self::getContainer()->get(EntityManagerInterface::class);
    }
}
