<?php

declare(strict_types=1);

namespace Geschenk\Tests\Standin;

use Geschenk\Standin\Phone\StreamHash;
use PHPUnit\Framework\TestCase;

final class StreamHashTest extends TestCase
{
    public function testItIsTheHashWhateverTheSize(): void
    {
        foreach ([0, 1, 65_536, 8_000_000, 8_000_001, 20_000_000] as $bytes) {
            foreach ([$bytes, 0, 50_000_000] as $expected) {
                self::assertSame(
                    hash('sha256', str_repeat('x', $bytes)), self::hash($bytes, $expected), "$bytes of $expected",
                );
            }
        }
    }

    /** A worker sets an alarm again and again; a call that waits for a pipe then ends early. */
    public function testSignalsInBetweenChangeNothing(): void
    {
        $came = 0;
        pcntl_async_signals(true);
        pcntl_signal(\SIGUSR1, static function () use (&$came): void {
            ++$came;
        }, false);
        $command = sprintf('while kill -USR1 %d 2>/dev/null; do sleep 0.001; done', (int) getmypid());
        $storm = proc_open(['sh', '-c', $command], [['file', '/dev/null', 'r']], $pipes);
        self::assertIsResource($storm);
        try {
            for ($n = 0; $n < 4; ++$n) {
                self::assertSame(hash('sha256', str_repeat('x', 60_000_000)), self::hash(60_000_000, 60_000_000));
            }
        } finally {
            proc_terminate($storm, \SIGKILL);
            proc_close($storm);
            // What is still on its way must not end the tests.
            pcntl_signal(\SIGUSR1, \SIG_IGN);
        }
        self::assertGreaterThan(20, $came);
    }

    private static function hash(int $bytes, int $expected): string
    {
        $hash = new StreamHash($expected);
        $piece = str_repeat('x', 65_536);
        for ($left = $bytes; $left > 0; $left -= strlen($piece)) {
            $hash->add(substr($piece, 0, $left));
        }

        return $hash->finish();
    }
}
