<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Tests\Support\Console;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

/** What is saved is loaded into another folder as it was, or not at all. */
final class SaveTest extends TestCase
{
    use Scratch;

    protected function setUp(): void
    {
        Folder::make($this->path('shop'));
        [$code, $said] = Console::run($this->path('shop'), ['doctrine:migrations:migrate', '-n']);
        self::assertSame(0, $code, $said);
        foreach (['backups/one/data/raw', 'backups/one/data/Ö dd', 'trays/41/moves/1'] as $folder) {
            file_put_contents(Folder::make($this->path('shop/'.$folder))."/fi'le", random_bytes(5_000));
        }
        file_put_contents($this->path('shop/kind'), "shop\n");
    }

    public function testItIsThereAsItWas(): void
    {
        self::assertStringContainsString('5 files', $this->geschenk(0, 'shop', 'save'));
        $this->geschenk(0, 'other', 'load');
        foreach (['kind', 'backups', 'trays'] as $part) {
            $same = new Process(['diff', '-r', $this->path('shop/'.$part), $this->path('other/'.$part)]);
            self::assertSame(0, $same->run(), $same->getOutput());
        }
        $tables = 'SELECT group_concat(name) FROM (SELECT name FROM sqlite_schema ORDER BY name)';
        self::assertSame(
            (new \SQLite3($this->path('shop/shop.sqlite')))->querySingle($tables),
            (new \SQLite3($this->path('other/shop.sqlite')))->querySingle($tables),
        );
        self::assertStringContainsString('left as it is', $this->geschenk(1, 'shop', 'save'));
        self::assertStringContainsString('holds something already', $this->geschenk(1, 'other', 'load'));
    }

    public function testASavingThatWasCutShortGoesOnWhereNothingHasChanged(): void
    {
        $this->geschenk(0, 'shop', 'save');
        $whole = (string) file_get_contents($this->path('saved.tar'));
        // What lies there is the same each time; behind it comes the list, of this time.
        $files = (int) strpos($whole, "manifest\0");
        foreach ([700, $files] as $bytes) {
            unlink($this->path('saved.tar'));
            file_put_contents($this->path('saved.tar.part'), substr($whole, 0, $bytes));
            $said = $this->geschenk(0, 'shop', 'save');
            self::assertStringContainsString('Going on behind', $said);
            self::assertStringNotContainsString('anew', $said);
            self::assertSame(
                substr($whole, 0, $files), substr((string) file_get_contents($this->path('saved.tar')), 0, $files),
            );
        }
        foreach ([substr($whole, 0, 3_000), $whole.$whole] as $part) {
            unlink($this->path('saved.tar'));
            file_put_contents($this->path('saved.tar.part'), $part);
            file_put_contents($this->path("shop/backups/one/data/raw/fi'le"), random_bytes(5_000));
            self::assertStringContainsString('is written anew', $this->geschenk(0, 'shop', 'save'));
        }
        $this->geschenk(0, 'other', 'load');
        self::assertFileEquals(
            $this->path("shop/backups/one/data/raw/fi'le"), $this->path("other/backups/one/data/raw/fi'le"),
        );
    }

    public function testALoadingThatWasCutShortGoesOnAndTakesNothingForWholeThatIsNot(): void
    {
        $this->geschenk(0, 'shop', 'save');
        $half = fn (string $in): Process => Process::fromShellCommandline(
            "mkdir -p other/loading && tar -xf saved.tar -C other/loading && cd other/loading && $in",
            $this->path(),
        )->mustRun();
        $last = 'rm -f shop.sqlite kind manifest && truncate -s 900 trays/41/moves/1/fi*';
        foreach ([
            'cut in a file' => $last,
            'cut in a file, one before it not on the disk' => "truncate -s 0 backups/one/data/raw/fi* && $last",
            'of another file' => 'date >> manifest && date > backups/one/data/other && rm -f shop.sqlite',
            'cut while it was put in place' => 'mv backups keys ..',
        ] as $cut => $how) {
            $half($how);
            self::assertStringContainsString('Going on with', $this->geschenk(0, 'other', 'load'), $cut);
            $same = new Process(['diff', '-r', $this->path('shop/backups'), $this->path('other/backups')]);
            self::assertSame(0, $same->run(), $cut.$same->getOutput());
            self::assertFileEquals(
                $this->path("shop/trays/41/moves/1/fi'le"), $this->path("other/trays/41/moves/1/fi'le"),
            );
            Folder::remove($this->path('other'));
        }
    }

    public function testALoadingThatWasCutShortIsBegunAnew(): void
    {
        $this->geschenk(0, 'shop', 'save');
        Folder::make($this->path('other/loading/trays'));
        Folder::make($this->path('other/backups/half'));
        $this->geschenk(0, 'other', 'load');
        self::assertDirectoryDoesNotExist($this->path('other/backups/half'));
        self::assertDirectoryDoesNotExist($this->path('other/loading'));
        self::assertFileExists($this->path('other/shop.sqlite'));
    }

    public function testAShopIsNoDemonstrationBeforeAnythingIsDone(): void
    {
        $before = hash_file('sha256', $this->path('shop/shop.sqlite'));
        [$code, $said] = Console::geschenk($this->path('shop'), ['setup', '--reset']);
        self::assertSame(1, $code);
        self::assertStringContainsString('of a shop', $said);
        self::assertSame($before, hash_file('sha256', $this->path('shop/shop.sqlite')));
        self::assertFileDoesNotExist($this->path('shop/running'));
    }

    public function testWhatWasChangedOnTheWayIsNotTaken(): void
    {
        $this->geschenk(0, 'shop', 'save');
        $whole = (string) file_get_contents($this->path('saved.tar'));
        $harms = ['cut' => substr($whole, 0, intdiv(strlen($whole), 2)), 'another byte' => $whole];
        $at = (int) strpos($whole, 'fi\'le') + 1_000;
        $harms['another byte'][$at] = chr(ord($whole[$at]) ^ 1);
        foreach ($harms as $harm => $bytes) {
            file_put_contents($this->path('saved.tar'), $bytes);
            $this->geschenk(1, 'other', 'load');
            self::assertSame(
                ['running'], array_values(array_diff(scandir($this->path('other')) ?: [], ['.', '..'])), $harm,
            );
        }
        // A link, and a file that is in no list.
        foreach (['link' => 'ln -s /etc', 'file' => 'touch'] as $name => $make) {
            file_put_contents($this->path('saved.tar'), $whole);
            Process::fromShellCommandline("cd {$this->path()} && mkdir -p add/backups && rm -f add/backups/* && "
                ."$make add/backups/$name && tar -rf saved.tar -C add backups/$name")->mustRun();
            self::assertStringContainsString('not what was saved', $this->geschenk(1, 'other', 'load'));
            self::assertDirectoryDoesNotExist($this->path('other/backups'));
        }
    }

    public function testAListThatCameAlongIsNotBelieved(): void
    {
        $this->geschenk(0, 'shop', 'save');
        Folder::make($this->path('made'));
        $in = fn (string $act): Process => Process::fromShellCommandline($act, $this->path('made'))->mustRun();
        $in('tar -xf ../saved.tar');
        // A line for a file elsewhere makes up for one that is left out.
        $in('cp manifest kept && (grep -v trays/41 manifest; sha256sum /etc/hostname) > other && mv other manifest');
        $in('tar -cf ../saved.tar manifest kind shop.sqlite backups trays');
        self::assertStringContainsString('not what was saved', $this->geschenk(1, 'other', 'load'));
        $in('mv kept manifest && touch beside && tar -cf ../saved.tar manifest kind shop.sqlite backups trays beside');
        self::assertStringContainsString('not what was saved', $this->geschenk(1, 'other', 'load'));
        // Packed once more it might be of any size.
        $in('rm beside && tar -czf ../saved.tar manifest kind shop.sqlite backups trays');
        self::assertStringContainsString('can\'t be read', $this->geschenk(1, 'other', 'load'));
        (new \SQLite3($this->path('made/shop.sqlite')))->exec(
            'CREATE TRIGGER gone AFTER INSERT ON log_entry BEGIN DELETE FROM log_entry; END',
        );
        $in('(sha256sum kind shop.sqlite; grep -v shop.sqlite manifest | grep -v kind$) > other && mv other manifest');
        $in('tar -cf ../saved.tar manifest kind shop.sqlite backups trays');
        self::assertStringContainsString('can\'t be worked with', $this->geschenk(1, 'other', 'load'));
        self::assertSame(['running'], array_values(array_diff(scandir($this->path('other')) ?: [], ['.', '..'])));
    }

    public function testAShopIsNotServedBesideHalfOfALoading(): void
    {
        Folder::make($this->path('other/loading/trays'));
        [$code, $said] = Console::geschenk($this->path('other'), ['records']);
        self::assertSame(1, $code);
        self::assertStringContainsString('was cut short', $said);
        self::assertFileDoesNotExist($this->path('other/shop.sqlite'));
    }

    private function geschenk(int $code, string $data, string $act): string
    {
        [$found, $said] = Console::geschenk($this->path($data), [$act, $this->path('saved.tar')]);
        self::assertSame($code, $found, $said);

        return $said;
    }
}
