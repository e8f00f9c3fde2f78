<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\Core\Archive\SealedVault;
use Geschenk\Core\Seal\KeyFile;
use Geschenk\Core\Seal\Keyring;
use Geschenk\Core\Seal\OpenCopies;
use Geschenk\Standin\Place\SecondDisk;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Console;
use Geschenk\Tests\Support\OwnData;
use Symfony\Component\Process\Process;

/** A shop whose computer is gone begins anew from its second place and its key alone. */
final class RebuildTest extends ApiTestCase
{
    use OwnData;

    protected function setUp(): void
    {
        // Another process reads what is stored here.
        $this->useOwnData($this->path('shop'));
        parent::setUp();
    }

    protected function tearDown(): void
    {
        parent::tearDown();
        $this->useDataOfAll();
    }

    public function testTheShopIsRebuiltFromThereAlone(): void
    {
        $disk = self::getContainer()->get(SecondDisk::class);
        $disk->make();
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $id = $this->text($this->move($n), 'backup', 'id');
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $this->call('POST', '/api/second-place/runs', null, 202);
        $this->work();
        $home = self::getContainer()->get(DataFolder::class)->path;
        $other = $this->path('other');
        $rebuild = fn (int $code, string $place = ''): string => $this->rebuilt($code, $other, $place);
        self::assertStringContainsString('say where the second place is', $rebuild(1));
        self::assertStringContainsString('can’t be reached', $rebuild(1, $disk->path().'/elsewhere'));
        // One portion is harmed: its backup costs itself, is named, and calls in the shop that was rebuilt.
        $safety = self::getContainer()->get(EntityManagerInterface::class)->getRepository(Backup::class)
            ->findOneBy(['origin' => 'safety_copy'])->id ?? '';
        $harmed = glob($disk->path()."/copies/$safety/p-*")[0] ?? self::fail('It is there.');
        file_put_contents($harmed, 'x', \FILE_APPEND);
        // Cut short, it is gone on with.
        $ring = glob($disk->path().'/copies/records/p-*')[0] ?? self::fail('They are there.');
        rename($ring, "$ring-away");
        self::assertStringContainsString('begin anew to go on', $rebuild(1, $disk->path()));
        self::assertFileDoesNotExist("$other/shop.sqlite");
        rename("$ring-away", $ring);
        $said = $rebuild(0, $disk->path());
        self::assertStringContainsString("$safety is not whole", $said);
        self::assertStringContainsString('1 is not whole, and will call', $said);
        self::assertStringContainsString('holds something already', $rebuild(1, $disk->path()));
        foreach (["backups/$id.sealed", "trays/$n", 'keys/ring'] as $part) {
            $same = new Process(['diff', '-r', "$home/$part", "$other/$part"]);
            self::assertSame(0, $same->run(), $same->getOutput());
        }
        $count = 'SELECT (SELECT COUNT(*) FROM tray) || (SELECT COUNT(*) FROM backup) || mark FROM second_place';
        self::assertSame(
            (new \SQLite3("$home/shop.sqlite"))->querySingle($count),
            (new \SQLite3("$other/shop.sqlite"))->querySingle($count),
        );
        $ring = new Keyring("$other/keys", new KeyFile("$home/keys/demonstration"));
        $vault = new SealedVault("$other/backups", $ring, new OpenCopies(sys_get_temp_dir(), "$other/backups"));
        $vault->verify($id);
        self::assertGreaterThan(1, iterator_count($vault->open($id)->raw()->paths()));
        self::assertDirectoryDoesNotExist("$other/rebuilding");
    }

    /** @param string $place where it is, if that is said */
    private function rebuilt(int $code, string $to, string $place): string
    {
        $key = self::getContainer()->get(DataFolder::class)->path.'/keys/demonstration';
        [$is, $said] = Console::geschenk($to, ['rebuild'], [
            'GESCHENK_SECOND_PLACE' => $place, 'GESCHENK_KEY_FILE' => $key,
        ]);
        self::assertSame($code, $is, $said);

        return $said;
    }
}
