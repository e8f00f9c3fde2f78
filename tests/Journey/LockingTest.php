<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\BackupState;
use Geschenk\App\Work\Erasing;
use Geschenk\Core\Archive\SealedVault;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Tests\App\ApiTestCase;

/** Under its customer's own password a backup is kept, told whole, erased; opened by whoever types it alone. */
final class LockingTest extends ApiTestCase
{
    private const PASSWORD = 'Ärmel und Ente';

    public function testNobodyAtTheShopOpensItUntilItsCustomerTypesThePassword(): void
    {
        [$n, $id] = $this->handedOver();
        $copy = $this->safetyCopy($n);
        $pulled = $this->pulled($id);
        $lock = "/api/backups/$id/lock";
        self::assertSame('backup_password_short', $this->refusal('POST', $lock, ['password' => 'Ärmel 7']));
        self::assertSame('kept', $this->kept($n)['state']);
        $this->call('POST', $lock, ['password' => self::PASSWORD], 202);
        $this->work();
        $one = $this->kept($n);
        self::assertSame(['locked', null, null], [$one['state'], $one['run'], $one['trouble']]);
        self::assertNotNull($one['locked_at']);
        self::assertSame(['verify', 'unlock', 'keep', 'erase'], array_column((array) $one['may'], 'act'));
        // The phone's own way back is its customer's too.
        $vault = self::getContainer()->get(SealedVault::class);
        self::assertTrue($vault->isLocked($id) && $vault->isLocked($copy));
        self::assertSame('backup_locked', $this->refusal('GET', "/api/backups/$id/conversations", null));
        self::assertSame('backup_locked', $this->refusal('POST', '/api/trays', [
            'customer' => 'Test Person', 'contact' => 'x', 'consent' => true, 'errand' => 'bring_kept',
            'backups' => [$id], 'receiving' => basename($this->receiving->path),
        ]));
        $this->signIn('orla');
        self::assertSame('backup_locked', $this->refusal('POST', "/api/backups/$id/copies", [
            'forms' => ['cards'], 'packing' => 'folder', 'stick' => 'grey', 'language' => 'en', 'reason' => 'asked for',
        ]));
        $this->signIn();
        self::assertSame('backup_locked', $this->refusal('POST', $lock, ['password' => self::PASSWORD]));
        $this->browser->request('GET', "/trays/$n/sheet");
        $sheet = (string) $this->browser->getResponse()->getContent();
        self::assertStringContainsString('under your own password. Nobody at the shop knows it', $sheet);
        foreach ($this->dataOfShop() as $path => $text) {
            self::assertStringNotContainsString(self::PASSWORD, $text, $path);
        }

        $unlock = "/api/backups/$id/unlock";
        self::assertSame('backup_password_wrong', $this->refusal('POST', $unlock, ['password' => 'Ente und Ärmel']));
        $this->call('POST', $unlock, ['password' => self::PASSWORD]);
        self::assertSame('kept', $this->kept($n)['state']);
        self::assertSame($pulled, $this->pulled($id));
        self::assertFalse($vault->isLocked($copy));
        $vault->verify($id);
        self::assertSame('not_locked', $this->refusal('POST', $unlock, ['password' => self::PASSWORD]));
        $this->signIn('orla');
        $log = (string) json_encode($this->call('GET', '/api/log'), \JSON_UNESCAPED_UNICODE);
        foreach (['under its customer’s own password', 'A wrong password for', 'from under its customer’s'] as $told) {
            self::assertStringContainsString($told, $log);
        }
        self::assertStringNotContainsString(self::PASSWORD, $log);
    }

    public function testItIsToldWholeOrNotAndErasedWhileNobodyCanOpenIt(): void
    {
        [$n, $id] = $this->handedOver();
        $this->call('POST', "/api/backups/$id/lock", ['password' => self::PASSWORD], 202);
        $chats = $this->lies($id, 'data/chats.sqlite');
        $this->work();
        $whole = (string) file_get_contents($chats);
        foreach ([null, strrev($whole), substr($whole, 0, -1)] as $harm) {
            null === $harm ?: file_put_contents($chats, $harm);
            $this->call('POST', "/api/backups/$id/verify", null, 202);
            $this->work();
            self::assertSame(null === $harm, null === $this->kept($n)['trouble']);
        }
        foreach (['gone', 'one more'] as $harm) {
            file_put_contents($chats, $whole);
            'gone' === $harm ? unlink($chats) : file_put_contents($chats.'x', 'x');
            $this->call('POST', "/api/backups/$id/verify", null, 202);
            $this->work();
            self::assertNotNull($this->kept($n)['trouble'], $harm);
        }
        $this->call('POST', "/api/trays/$n/erase", ['number' => (string) $n], 202);
        self::getContainer()->get(Erasing::class)->do($n);
        self::assertSame('erased', $this->kept($n)['state']);
        $told = (string) file_get_contents(self::getContainer()->get(DataFolder::class)->keys().'/ring');
        self::assertStringNotContainsString($id, $told, 'No key of it is left, whoever had it.');
    }

    public function testWhoeverGuessesIsHeldUp(): void
    {
        [, $id] = $this->handedOver();
        $this->call('POST', "/api/backups/$id/lock", ['password' => self::PASSWORD], 202);
        $this->work();
        for ($n = 0; $n < 5; ++$n) {
            self::assertSame('backup_password_wrong', $this->refusal(
                'POST', "/api/backups/$id/unlock", ['password' => "guess $n"],
            ));
        }
        self::assertSame('too_many_guesses', $this->refusal(
            'POST', "/api/backups/$id/unlock", ['password' => self::PASSWORD],
        ));
    }

    public function testOneThatWasKilledBetweenTheTwoIsBroughtToItsEndAndNoneIsLockedUnderWhoeverWorksWithIt(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $id = $this->text($this->move($n), 'backup', 'id');
        self::assertSame('lock_after_hand_over', $this->refusal(
            'POST', "/api/backups/$id/lock", ['password' => self::PASSWORD],
        ));
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $this->handOver($n);
        $this->call('POST', "/api/backups/$id/lock", ['password' => self::PASSWORD], 202);
        self::assertSame('busy', $this->refusal('POST', "/api/backups/$id/lock", ['password' => 'of another']));
        // Its worker was killed behind the keyring and before the record.
        self::getContainer()->get(SealedVault::class)->lock($id, self::PASSWORD);
        $this->work();
        self::assertSame('locked', $this->kept($n)['state']);
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        self::assertSame(BackupState::Locked, $entities->find(Backup::class, $this->safetyCopy($n))?->state());
    }

    public function testNothingIsLockedWithWhatIsNotWhole(): void
    {
        [$n, $id] = $this->handedOver();
        $copy = $this->safetyCopy($n);
        file_put_contents($this->lies($copy, 'data/chats.sqlite'), 'spoilt');
        $this->call('POST', "/api/backups/$id/lock", ['password' => self::PASSWORD], 202);
        $this->work();
        self::assertSame(['kept', 'failed'], [
            $this->kept($n)['state'], $this->value($this->kept($n), 'run', 'state'),
        ]);
        $vault = self::getContainer()->get(SealedVault::class);
        self::assertFalse($vault->isLocked($id) || $vault->isLocked($copy));
        self::assertNotSame([], $this->pulled($id));
    }

    public function testWhatWasLockedWithAnotherOfTheSameJobStaysUnderItsOwnPassword(): void
    {
        [$n, $id] = $this->handedOver();
        $copy = $this->safetyCopy($n);
        $vault = self::getContainer()->get(SealedVault::class);
        $vault->lock($copy, 'of another');
        $this->call('POST', "/api/backups/$id/lock", ['password' => self::PASSWORD], 202);
        $this->work();
        $this->call('POST', "/api/backups/$id/unlock", ['password' => self::PASSWORD]);
        self::assertSame('kept', $this->kept($n)['state']);
        self::assertTrue($vault->isLocked($copy));
        $vault->unlock($copy, 'of another');
        $vault->verify($copy);
    }

    /** @return array{int, string} number of a tray that was handed over, and the id of its backup */
    private function handedOver(): array
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $id = $this->text($this->move($n), 'backup', 'id');
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $this->handOver($n);

        return [$n, $id];
    }

    private function safetyCopy(int $n): string
    {
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        foreach ($entities->getRepository(Backup::class)->findAll() as $one) {
            if ($one->isSafetyCopy() && $one->tray->number === $n) {
                return $one->id;
            }
        }
        self::fail('What the phone held was kept.');
    }

    /** @return array<string, mixed> */
    private function kept(int $n): array
    {
        /** @var array<string, mixed> $one */
        $one = $this->value($this->call('GET', "/api/trays/$n"), 'keeping', 'list', 0);

        return $one;
    }

    /** @return iterable<string, string> all that lies in the data folder but phones, by path */
    private function dataOfShop(): iterable
    {
        $data = self::getContainer()->get(DataFolder::class)->path;
        foreach (Folder::files($data) as $path) {
            if (!str_starts_with($path, 'standin/')) {
                yield $path => (string) file_get_contents($data.'/'.$path);
            }
        }
    }
}
