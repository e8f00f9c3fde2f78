<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Work\Sealing\LyingOpen;
use Geschenk\App\Work\Sealing\SealingKind;
use Geschenk\App\WorkLocks;
use Geschenk\Core\Archive\Bag;
use Geschenk\Core\Archive\SealedBag;
use Geschenk\Core\Archive\SealedVault;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Seal\Keyring;
use Geschenk\Tests\App\ApiTestCase;

/** What a version before has left open is sealed beside the work, and is what it was. */
final class SealingTest extends ApiTestCase
{
    public function testWhatLiesOpenIsSealedOneByOneAndStaysWhatItWas(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $id = $this->text($this->move($n), 'backup', 'id');
        $pulled = $this->pulled($id);
        $open = $this->layOpen($id);
        self::assertSame($pulled, $this->pulled($id), 'It is read as it lies.');
        $this->askAndWork($n, ['kind' => 'conversion']);
        self::assertTrue($this->value($this->move($n), 'rehearsal', 'complete'));

        // Whoever works with it just now is not disturbed.
        $lock = self::getContainer()->get(WorkLocks::class)->ofErasing($n);
        self::assertTrue($lock->acquire());
        $this->round();
        self::assertDirectoryExists($open);
        $lock->release();
        $this->round();
        self::assertDirectoryDoesNotExist($open);
        self::assertSame([], self::getContainer()->get(SealedVault::class)->lyingOpen());
        self::assertSame($pulled, $this->pulled($id));
        self::getContainer()->get(Vault::class)->verify($id);
        // One that was killed between the two leaves both: what is sealed counts, and the other goes.
        Folder::make($open);
        file_put_contents($open.'/bagit.txt', 'x');
        $this->round();
        self::assertDirectoryDoesNotExist($open);
        self::assertSame($pulled, $this->pulled($id));
        $runs = $this->runs();
        $this->round();
        self::assertSame($runs, $this->runs(), 'Nobody is asked where there is nothing.');
    }

    public function testOneThatIsNotWholeStaysAsItLiesAndIsSaid(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $id = $this->text($this->move($n), 'backup', 'id');
        $open = $this->layOpen($id);
        file_put_contents($open.'/data/chats.sqlite', 'spoilt');
        $this->round();
        self::assertSame('spoilt', file_get_contents($open.'/data/chats.sqlite'));
        self::assertDirectoryDoesNotExist($open.'.sealed');
        $backup = self::getContainer()->get(EntityManagerInterface::class)->find(Backup::class, $id);
        self::assertSame('backup_broken', $backup?->trouble());
        $runs = $this->runs();
        $this->round();
        self::assertSame($runs, $this->runs(), 'It is not tried again and again.');
    }

    /** As a version before has kept it. */
    private function layOpen(string $id): string
    {
        $vault = self::getContainer()->get(Vault::class);
        $open = self::getContainer()->get(DataFolder::class)->backups().'/'.$id;
        $paths = [...Bag::TAGS, 'data/chats.sqlite'];
        foreach ($vault->open($id)->raw()->paths() as $path) {
            $paths[] = 'data/raw/'.$path;
        }
        foreach ($paths as $path) {
            Folder::make(dirname($open.'/'.$path));
            copy($this->unsealed($id, $path), $open.'/'.$path);
        }
        Folder::remove($open.'.sealed');
        $vault->verify($id);

        return $open;
    }

    private function unsealed(string $id, string $path): string
    {
        $bag = new SealedBag(
            self::getContainer()->get(DataFolder::class)->backups().'/'.$id.'.sealed',
            self::getContainer()->get(Keyring::class)->key($id),
        );
        $bag->file($path)->unseal($to = sys_get_temp_dir().'/unsealed-'.getmypid());

        return $to;
    }

    private function round(): void
    {
        self::getContainer()->get(LyingOpen::class)->look();
        $this->work();
        foreach ($this->found() as $run) {
            self::assertSame(RunState::Done, $run->state(), (string) $run->trouble());
        }
    }

    private function runs(): int
    {
        return count($this->found());
    }

    /** @return list<Run> */
    private function found(): array
    {
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        $entities->clear();

        return $entities->getRepository(Run::class)->findBy(['kind' => SealingKind::name()]);
    }
}
