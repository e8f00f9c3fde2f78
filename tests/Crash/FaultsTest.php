<?php

declare(strict_types=1);

namespace Geschenk\Tests\Crash;

use Geschenk\App\Demo\Measure\FaultTrial;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Standin\Phone\PhoneFolder;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/**
 * Whatever interrupts the way of an account, it ends with everything there and the giving phone as it was. More of the
 * same: ./geschenk console faults:run --seeds=1000.
 */
final class FaultsTest extends TestCase
{
    use Scratch;

    public function testEveryFaultAtAnyMomentIsAShrug(): void
    {
        $trial = new FaultTrial(Folder::make($this->path('trial')));
        $interrupted = 0;
        // Progress is told by the clock: a quicker computer takes fewer steps, and needs more seeds for as many.
        for ($seed = 1; $seed <= 50 || ($interrupted < 200 && $seed <= 200); ++$seed) {
            $outcome = $trial->run($seed);
            $interrupted += $outcome['interrupted'];
            self::assertSame([true, false, false, 0], [
                $outcome['whole'], $outcome['lost_silently'], $outcome['giving_changed'], $outcome['between'],
            ], "seed $seed: ".implode(', ', $outcome['story']));
        }
        self::assertGreaterThanOrEqual(200, $interrupted);
    }

    public function testHarmIsSeen(): void
    {
        $trial = new FaultTrial(Folder::make($this->path('trial')));
        $outcome = $trial->run(1, static function (PhoneFolder $giving, PhoneFolder $receiving): void {
            foreach (Folder::files($receiving->data('otterpost')) as $path) {
                if (str_ends_with($path, '.jpg')) {
                    unlink($receiving->data('otterpost').'/'.$path);
                    break;
                }
            }
            file_put_contents($giving->data('otterpost').'/one-more', 'x');
        });
        self::assertSame(
            [false, true, true], [$outcome['whole'], $outcome['lost_silently'], $outcome['giving_changed']],
        );
    }
}
