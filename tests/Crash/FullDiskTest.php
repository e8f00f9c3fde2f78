<?php

declare(strict_types=1);

namespace Geschenk\Tests\Crash;

use PHPUnit\Framework\Attributes\DataProvider;

/**
 * The disk is full for a while in the middle of a run, for every file that is written, SQLite's too: strace answers in
 * the kernel's place. The run waits and says so, and when there is room it goes on to the same end.
 */
final class FullDiskTest extends BenchTestCase
{
    private const POINTS = 6;
    /** Calls that find no room, from the first that does; then somebody has made some. */
    private const LASTS = 6;
    private const CALLS = 'write,pwrite64,ftruncate,fallocate,mkdir,fsync';

    #[DataProvider('kinds')]
    public function testTheRunWaitsAndGoesOn(string $kind): void
    {
        self::layOut($kind);
        $calls = $this->handle([]);
        self::assertGreaterThan(self::POINTS * 4, array_sum($calls));
        $whole = self::tell(['do' => 'work']);
        self::assertSame('done', $whole['state'], json_encode($whole) ?: '');
        $waited = 0;
        for ($point = 0; $point < self::POINTS; ++$point) {
            self::layOut($kind);
            $this->handle(
                array_map(static fn (int $count): int => 1 + (int) ($count * ($point + 0.5) / self::POINTS), $calls),
            );
            $where = sprintf('%s, no room after %d of %d parts', $kind, $point, self::POINTS);
            $found = self::tell(['do' => 'look'], $where);
            // What could do without the calls that failed is done, and what follows it waits for a worker.
            self::assertContains($found['state'], ['waiting', 'done', 'queued'], $where.json_encode($found));
            if ('waiting' === $found['state']) {
                self::assertSame('disk_full', $found['trouble'], $where);
                ++$waited;
            }
            self::tell(['do' => 'make room'], $where);
            self::assertEquals($whole, self::tell(['do' => 'work'], $where), $where);
        }
        self::assertGreaterThan(self::POINTS / 2, $waited);
    }

    /**
     * Does the newest run once.
     *
     * @param array<string, int> $first call of each sort that finds no room; none for room all the time
     *
     * @return array<string, int> how many calls of each sort the worker made
     */
    private function handle(array $first): array
    {
        $log = self::home().'.calls';
        $inject = [];
        foreach ($first as $call => $from) {
            // strace counts each sort of call by itself, in each process.
            $inject[] = '-e';
            $inject[] = sprintf('inject=%s:error=ENOSPC:when=%d..%d', $call, $from, $from + self::LASTS - 1);
        }
        $process = proc_open(
            [
                'strace', '-f', '-qq', '-s', '0', '-e', 'trace='.self::CALLS, '-e', 'signal=none', ...$inject, '-o',
                $log, \PHP_BINARY, __DIR__.'/bench.php',
            ],
            [['pipe', 'r'], ['file', '/dev/null', 'w'], ['file', $log.'.err', 'w']], $pipes, null, self::environment(),
        );
        self::assertIsResource($process);
        fwrite($pipes[0], json_encode(['do' => 'once'])."\n");
        fclose($pipes[0]);
        proc_close($process);
        $lines = file($log) ?: [];
        $worker = strtok($lines[0] ?? '', ' ');
        $calls = [];
        foreach ($lines as $line) {
            if (1 === preg_match(
                '/^'.$worker.' +(?:<\.\.\. )?(\w+)(?:\(| resumed)/', $line, $call,
            ) && !str_contains($line, 'unfinished')) {
                $calls[$call[1]] = ($calls[$call[1]] ?? 0) + 1;
            }
        }

        return $calls;
    }
}
