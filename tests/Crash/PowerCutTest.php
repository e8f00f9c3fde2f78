<?php

declare(strict_types=1);

namespace Geschenk\Tests\Crash;

use Geschenk\Core\Files\Folder;
use Geschenk\Core\Files\ScratchFolder;
use Geschenk\Tests\Support\Phones;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

/**
 * The power goes at any moment of a backup, a conversion, a restore with its check: what was not synced is gone or torn.
 * The application is opened on what is left, goes on, and everything is there. GESCHENK_POWER_CUTS=1000 tries more.
 */
final class PowerCutTest extends TestCase
{
    private static ?ScratchFolder $scratch = null;
    /** @var array{resource, array<int, resource>}|null */
    private static ?array $bench = null;
    /** @var array<string, string> home folders as they were before each kind of run */
    private static array $before = [];

    public static function setUpBeforeClass(): void
    {
        self::$scratch = ScratchFolder::make();
        $home = self::home();
        Folder::make($home);
        exec(sprintf('GESCHENK_DATA=%s APP_ENV=test APP_SECRET=only-for-the-tests %s %s doctrine:migrations:migrate --no-interaction 2>&1', escapeshellarg($home), escapeshellarg(\PHP_BINARY), escapeshellarg(dirname(__DIR__, 2).'/bin/console')), $said, $code);
        self::assertSame(0, $code, implode("\n", $said));
        Phones::giving($home.'/standin/phones', [], false, 60);
        Phones::receiving($home.'/standin/phones');
        self::tell(['do' => 'open']);
        foreach (['backup', 'conversion', 'restore'] as $kind) {
            self::tell(['do' => 'ask', 'kind' => $kind]);
            self::keep($kind);
            self::tell(['do' => 'work']);
        }
    }

    public static function tearDownAfterClass(): void
    {
        if (null !== self::$bench) {
            fclose(self::$bench[1][0]);
            proc_close(self::$bench[0]);
            self::$bench = null;
        }
        self::$scratch?->remove();
        self::$scratch = null;
    }

    /** @return iterable<string, array{string}> */
    public static function kinds(): iterable
    {
        foreach (['backup', 'conversion', 'restore'] as $kind) {
            yield $kind => [$kind];
        }
    }

    #[DataProvider('kinds')]
    public function testEverythingArrivesWhateverMomentThePowerGoes(string $kind): void
    {
        $home = self::home();
        self::layOut($kind);
        // The check follows a restore as a run of its own.
        $orders = str_repeat(json_encode(['do' => 'once'])."\n", 'restore' === $kind ? 2 : 1);
        $ops = DiskLog::record([\PHP_BINARY, __DIR__.'/bench.php'], self::environment(), $orders, $home, $home.'.log');
        self::assertGreaterThan(200, count($ops));
        $whole = self::tell(['do' => 'work']);
        self::assertSame('done', $whole['state'], json_encode($whole) ?: '');
        self::layOut($kind);
        $disk = new Disk($home);
        $points = max(1, (int) (getenv('GESCHENK_POWER_CUTS') ?: 300) / 3);
        $chance = new Randomizer(new Mt19937(crc32($kind)));
        $applied = 0;
        for ($point = 1; $point <= $points; ++$point) {
            $until = (int) round(count($ops) * $point / $points);
            for (; $applied < $until; ++$applied) {
                $disk->apply($ops[$applied]);
            }
            $how = [Disk::BARE, Disk::NAMES, Disk::TORN][$point % 3];
            $disk->cutPower($how, $chance);
            $where = sprintf('%s, power gone after %d of %d steps (%s, last %s %s)', $kind, $applied, count($ops), $how, $ops[$applied - 1]['do'], substr($ops[$applied - 1]['path'], strlen($home)));
            $found = self::tell(['do' => 'work'], $where);
            self::assertSame('done', $found['state'], $where.json_encode($found));
            self::assertEquals($whole, $found, $where);
        }
    }

    private static function home(): string
    {
        return (self::$scratch ?? throw new \LogicException())->path.'/home';
    }

    /** @return array<string, string> */
    private static function environment(): array
    {
        return ['PATH' => (string) getenv('PATH'), 'GESCHENK_DATA' => self::home(), 'APP_ENV' => 'test', 'APP_SECRET' => 'only-for-the-tests'];
    }

    private static function keep(string $kind): void
    {
        self::$before[$kind] = (self::$scratch ?? throw new \LogicException())->path.'/before-'.$kind;
        exec(sprintf('cp -a %s %s', escapeshellarg(self::home()), escapeshellarg(self::$before[$kind])));
    }

    private static function layOut(string $kind): void
    {
        Folder::remove(self::home());
        exec(sprintf('cp -a %s %s', escapeshellarg(self::$before[$kind]), escapeshellarg(self::home())));
    }

    /**
     * @param array<string, string> $order
     *
     * @return array<array-key, mixed>
     */
    private static function tell(array $order, string $where = ''): array
    {
        if (null === self::$bench) {
            $process = proc_open([\PHP_BINARY, __DIR__.'/bench.php'], [['pipe', 'r'], ['pipe', 'w'], ['file', self::home().'.bench', 'a']], $pipes, null, self::environment());
            self::assertIsResource($process);
            self::$bench = [$process, $pipes];
        }
        fwrite(self::$bench[1][0], json_encode($order)."\n");
        $told = json_decode((string) fgets(self::$bench[1][1]), true);
        self::assertIsArray($told, $where.file_get_contents(self::home().'.bench'));
        self::assertArrayHasKey('ok', $told, $where.': '.json_encode($told));
        self::assertIsArray($told['ok']);

        return $told['ok'];
    }
}
