<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Work;

use Geschenk\Tests\Support\Migrated;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

/** A worker that dies by itself says so with its last words, and is not begun for ever: real processes. */
final class WorkerDeathTest extends TestCase
{
    use Migrated;

    public function testItsLastWordsAreHeardAndTheThirdDeathAtOnePlaceEndsTheRun(): void
    {
        $this->migrate('latest');
        foreach ([[1, 'working'], [2, 'working'], [3, 'working']] as $death) {
            self::assertSame(255, $this->work());
            self::assertSame([[...$death, 'reading 0 0']], $this->told('attempts, state, died_at'));
        }
        self::assertSame(0, $this->work());
        self::assertSame([['failed', 'ended_its_worker']], $this->told('state, trouble'));
    }

    private function work(): int
    {
        return (new Process(
            [
                \PHP_BINARY, '-d', 'memory_limit=96M', '-d', 'display_errors=0', '-d', 'log_errors=0',
                __DIR__.'/devour.php',
            ],
            null, [
                'GESCHENK_DATA' => $this->path(), 'APP_ENV' => 'test', 'APP_DEBUG' => '0',
                'APP_SECRET' => 'only-for-the-tests',
            ], null, 120,
        ))->run();
    }

    /** @return list<list<mixed>> of the runs */
    private function told(string $columns): array
    {
        $shop = new \SQLite3($this->path('shop.sqlite'), \SQLITE3_OPEN_READONLY);

        return self::rows($shop, "SELECT $columns FROM run");
    }
}
