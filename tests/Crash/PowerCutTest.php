<?php

declare(strict_types=1);

namespace Geschenk\Tests\Crash;

use PHPUnit\Framework\Attributes\DataProvider;
use Random\Engine\Mt19937;
use Random\Randomizer;

/**
 * The power goes at any moment of a backup, a conversion, a merge, a restore with its check, and of putting back: what
 * was not synced is gone or torn. The application is opened on what is left, goes on, and everything is there. A merge
 * is written like every restore; laying out its phone anew would be a change of the phone. GESCHENK_POWER_CUTS=1000
 * tries more.
 */
final class PowerCutTest extends BenchTestCase
{
    protected static function goOn(): void
    {
        self::goOnBehindTheRestore();
    }

    /** @return iterable<string, array{string}> */
    public static function moments(): iterable
    {
        yield from self::kinds();
        foreach (['merge', 'put back'] as $kind) {
            yield $kind => [$kind];
        }
    }

    #[DataProvider('moments')]
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
        $points = max(1, (int) (getenv('GESCHENK_POWER_CUTS') ?: 300) / 5);
        $chance = new Randomizer(new Mt19937(crc32($kind)));
        $applied = 0;
        for ($point = 1; $point <= $points; ++$point) {
            $until = (int) round(count($ops) * $point / $points);
            for (; $applied < $until; ++$applied) {
                $disk->apply($ops[$applied]);
            }
            $how = [Disk::BARE, Disk::NAMES, Disk::TORN][$point % 3];
            $disk->cutPower($how, $chance);
            $where = sprintf(
                '%s, power gone after %d of %d steps (%s, last %s %s)', $kind, $applied, count($ops), $how,
                $ops[$applied - 1]['do'], substr($ops[$applied - 1]['path'], strlen($home)),
            );
            $found = self::tell(['do' => 'work'], $where);
            self::assertSame('done', $found['state'], $where.json_encode($found));
            self::assertEquals($whole, $found, $where);
        }
    }
}
