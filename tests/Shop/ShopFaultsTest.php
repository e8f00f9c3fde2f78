<?php

declare(strict_types=1);

namespace Geschenk\Tests\Shop;

use Geschenk\App\Demo\Measure\Shop\ShopActs;
use Geschenk\App\Demo\Measure\Shop\ShopTrial;
use Geschenk\App\Demo\Measure\Shop\TrialKind;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/**
 * Each kind of job with the worker, the watch and the records of a shop, interrupted: one seed each. More of the same:
 * ./geschenk console faults:shop --seeds=300.
 */
final class ShopFaultsTest extends TestCase
{
    use Scratch;

    private const SEED = 22;

    public function testEachKindOfJobEndsWholeWhateverInterruptsIt(): void
    {
        $trial = new ShopTrial(dirname(__DIR__, 2), Folder::make($this->path('trial')));
        $interrupted = 0;
        foreach (TrialKind::all() as $n => $kind) {
            $outcome = $trial->run($kind, self::SEED + $n);
            $interrupted += $outcome['interrupted'];
            self::assertSame([], $outcome['faults'], $kind->name.': '.implode(', ', $outcome['story']));
        }
        self::assertGreaterThan(10, $interrupted);
    }

    public function testHarmIsSeen(): void
    {
        $trial = new ShopTrial(dirname(__DIR__, 2), Folder::make($this->path('trial')));
        [$backUp] = TrialKind::all();
        $outcome = $trial->run($backUp, self::SEED, static function (string $home): void {
            $phones = $home.'/standin/phones/';
            foreach ([ShopActs::GIVING, ShopActs::RECEIVING] as $serial) {
                file_put_contents($phones.$serial.'/data/otterpost/one-more', 'x');
            }
            Folder::make($home.'/backups/one.part');
            file_put_contents($home.'/backups/one.part/left', 'x');
            (new \SQLite3($home.'/shop.sqlite'))->exec('DELETE FROM log_entry WHERE rowid = 1');
        });
        self::assertSame([
            'the giving phone was changed', 'the chain of the log is broken',
            'left lying: ["backups\/one.part\/left"]', 'the receiving phone is not as before',
        ], $outcome['faults']);
    }
}
