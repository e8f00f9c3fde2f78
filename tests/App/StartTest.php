<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Geschenk\App\DataKind;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Tests\Support\Console;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** Starting never destroys: what a data folder holds is looked at before anything is made or carried across. */
final class StartTest extends TestCase
{
    use Scratch;

    public function testAShopIsNeverMadeADemonstration(): void
    {
        $this->console(0, 'doctrine:migrations:migrate', '--no-interaction');
        DataKind::Shop->write($this->path());
        Folder::make($this->path('backups/kept'));
        file_put_contents($this->path('backups/kept/file'), 'x');
        foreach ([[], ['--reset']] as $words) {
            self::assertStringContainsString('of a shop', $this->console(1, 'demo:make', ...$words));
            self::assertFileExists($this->path('backups/kept/file'));
        }
    }

    public function testWhoseAFolderIsThatDoesNotSayIt(): void
    {
        $kind = fn (): string => DataKind::of($this->path())->value ?? 'none';
        self::assertSame('none', $kind());
        Folder::make($this->path('backups/one'));
        self::assertSame('shop', $kind());
        Folder::make($this->path('standin'));
        self::assertSame('demonstration', $kind());
        file_put_contents($this->path('kind'), "something\n");
        self::assertSame('shop', $kind(), 'nothing is taken from what may be a shop');
    }

    public function testRecordsThatAreBrokenOrGoneAreSaidAndLeft(): void
    {
        $this->console(0, 'shop:inspect');
        $this->console(0, 'doctrine:migrations:migrate', '--no-interaction');
        $this->console(0, 'shop:inspect');
        $this->console(0, 'shop:copy');
        $whole = (string) file_get_contents($this->path('shop.sqlite'));
        file_put_contents($this->path('shop.sqlite'), substr($whole, 0, 9_000));
        $said = $this->console(1, 'shop:inspect');
        self::assertStringContainsString('damaged', $said);
        self::assertStringContainsString('copies/', $said);
        self::assertSame(9_000, filesize($this->path('shop.sqlite')));

        unlink($this->path('shop.sqlite'));
        Folder::make($this->path('trays/41'));
        self::assertStringContainsString('gone', $this->console(1, 'shop:inspect'));
        self::assertFileDoesNotExist($this->path('shop.sqlite'));
    }

    public function testACopyIsWholeForItsOwnUserAloneAndFiveAreKept(): void
    {
        $this->console(0, 'doctrine:migrations:migrate', '--no-interaction');
        for ($n = 1; $n <= 6; ++$n) {
            Folder::make($this->path('copies'));
            copy($this->path('shop.sqlite'), $this->path("copies/2026010$n-000000.sqlite"));
        }
        $this->console(0, 'shop:copy');
        $copies = glob($this->path('copies/*')) ?: [];
        self::assertCount(5, $copies);
        $newest = (string) end($copies);
        self::assertSame('ok', (new \SQLite3($newest))->querySingle('PRAGMA integrity_check'));
        self::assertSame(0, (int) fileperms($newest) & 0o077);
        self::assertSame(0, (int) fileperms($this->path('shop.sqlite')) & 0o077);
    }

    private function console(int $code, string ...$words): string
    {
        [$found, $said] = Console::run($this->path(), array_values($words));
        self::assertSame($code, $found, $said);

        return $said;
    }
}
