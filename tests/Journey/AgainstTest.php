<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\HeldAgainst;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Work\Erasing;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Seal\Keyring;
use Geschenk\Standin\Phone\IncomingMessage;
use Geschenk\Tests\App\ApiTestCase;

/** A backup is held against an earlier one of the same account; what comes of it goes with either of the two. */
final class AgainstTest extends ApiTestCase
{
    public function testWhatCameAndWentIsToldByConversationAndMonth(): void
    {
        [$n, $earlier, $later] = $this->two();
        $page = $this->call('GET', "/api/backups/$later/against");
        self::assertSame([$earlier], array_column(array_column((array) $page['earlier'], 'of'), 'id'));
        self::assertTrue($this->call('GET', "/api/cupboard/$later")['has_earlier']);
        self::assertSame([], $this->call('GET', "/api/backups/$earlier/against")['earlier']);
        $this->call('GET', "/api/backups/$later/against/$earlier", null, 404);
        // Neither itself, nor a later one, nor what nobody has.
        foreach ([[$earlier, $later], [$later, $later], [$later, str_repeat('0', 36)]] as [$of, $other]) {
            self::assertSame('not_the_same_account', $this->refusal('POST', "/api/backups/$of/against", [
                'earlier' => $other,
            ]));
        }
        $run = $this->value($this->hold($later, $earlier), 'run', 'run');
        self::assertIsArray($run);
        self::assertSame(['against', 'queued'], [$run['kind'], $run['state']]);
        $this->work();
        $result = $this->call('GET', "/api/backups/$later/against/$earlier");
        self::assertSame(2, $this->value($result, 'totals', 'came'));
        self::assertSame(0, $this->value($result, 'totals', 'went'));
        $first = $this->value($result, 'conversations', 0);
        self::assertIsArray($first);
        self::assertSame(2, $first['came']);
        self::assertSame(2, array_sum(array_column((array) $first['months'], 'came')));
        self::assertNotNull($this->value($this->call('GET', "/api/backups/$later/against"), 'earlier', 0, 'made_at'));
        // It lies sealed: no name of anybody's, and no text.
        $lies = (string) file_get_contents($this->lyingThere()[0] ?? self::fail('It lies there.'));
        self::assertStringContainsString('GSEALED', $lies);
        self::assertStringNotContainsString('conversations', $lies);
        $this->signIn('orla');
        $log = (string) json_encode($this->call('GET', '/api/log'));
        self::assertStringContainsString('Held the backup of Otterpost against an earlier one', $log);
        self::assertSame($n, $this->backup($later)->tray->number);
    }

    public function testWhatIsKnownOfTwoGoesWithEitherOfThem(): void
    {
        [$n, $earlier, $later] = $this->two();
        $this->hold($later, $earlier);
        $this->work();
        $held = basename($this->lyingThere()[0] ?? self::fail('It lies there.'));
        self::assertTrue(self::getContainer()->get(Keyring::class)->has("against $held"));
        $this->call('POST', "/api/trays/$n/withdraw", ['number' => "$n", 'keep' => true]);
        $this->call('POST', "/api/backups/$earlier/erase", ['number' => "$n"], 202);
        self::getContainer()->get(Erasing::class)->doBackup($earlier);
        self::assertNotNull($this->backup($earlier)->erasedAt());
        self::assertSame([], $this->lyingThere());
        self::assertSame([], $this->entities()->getRepository(HeldAgainst::class)->findAll());
        self::assertFalse(self::getContainer()->get(Keyring::class)->has("against $held"));
        self::assertSame([], $this->call('GET', "/api/backups/$later/against")['earlier']);
        $this->call('GET', "/api/backups/$later/against/$earlier", null, 404);
    }

    public function testItGoesWithItsTrayAndWithACustomersPassword(): void
    {
        [$n, $earlier, $later] = $this->two();
        $this->hold($later, $earlier);
        $this->work();
        $this->call('POST', "/api/trays/$n/withdraw", ['number' => "$n", 'keep' => true]);
        $this->call('POST', "/api/backups/$later/lock", ['password' => 'three herrings'], 202);
        $this->work();
        self::assertNotNull($this->backup($later)->lockedAt());
        self::assertSame([], $this->lyingThere(), 'Nobody at the shop knows it any more.');
        self::assertSame('backup_locked', $this->refusal('POST', "/api/backups/$later/against", [
            'earlier' => $earlier,
        ]));
        $this->call('POST', "/api/backups/$later/unlock", ['password' => 'three herrings']);
        $this->hold($later, $earlier);
        $this->work();
        self::assertCount(1, $this->lyingThere());
        // Lost, it is made anew by whoever asks.
        Folder::discard($this->lyingThere()[0]);
        $this->call('GET', "/api/backups/$later/against/$earlier", null, 404);
        $this->hold($later, $earlier);
        $this->work();
        self::assertSame(2, $this->value($this->call('GET', "/api/backups/$later/against/$earlier"), 'totals', 'came'));
        $this->call('POST', "/api/trays/$n/erase", ['number' => "$n"], 202);
        self::getContainer()->get(Erasing::class)->do($n);
        self::assertSame([], $this->lyingThere());
        self::assertSame([], $this->entities()->getRepository(HeldAgainst::class)->findAll());
    }

    public function testItIsCancelledAndLeavesNothing(): void
    {
        [, $earlier, $later] = $this->two();
        $run = $this->text($this->hold($later, $earlier), 'run', 'run', 'id');
        $this->call('POST', "/api/backups/$later/runs/$run/cancel", null, 202);
        $this->work();
        self::assertSame(RunState::Cancelled, $this->backup($later)->run()?->state());
        self::assertSame([], $this->lyingThere());
        self::assertNull($this->call('GET', "/api/backups/$later/against")['run']);
    }

    /** @return array{int, string, string} number of a tray and ids of two backups, two messages apart */
    private function two(): array
    {
        Folder::remove(self::getContainer()->get(DataFolder::class)->path.'/against');
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $earlier = $this->text($this->move($n), 'backup', 'id');
        IncomingMessage::comes($this->giving, 'otterpost');
        IncomingMessage::comes($this->giving, 'otterpost');
        $this->askAndWork($n, ['kind' => 'backup']);
        $later = $this->text($this->move($n), 'backup', 'id');
        self::assertNotSame($earlier, $later);

        return [$n, $earlier, $later];
    }

    /** @return array<array-key, mixed> */
    private function hold(string $later, string $earlier): array
    {
        return $this->call('POST', "/api/backups/$later/against", ['earlier' => $earlier], 202);
    }

    /** @return list<string> */
    private function lyingThere(): array
    {
        return glob(self::getContainer()->get(DataFolder::class)->path.'/against/*') ?: [];
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
