<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Sqlite;

use Geschenk\Core\Sqlite\Database;
use PHPUnit\Framework\TestCase;

final class DatabaseTest extends TestCase
{
    public function testStatementsThatDifferInANumberDoNotPileUp(): void
    {
        $database = Database::create(':memory:');
        $columns = implode(', ', array_map(static fn (int $n): string => "abs($n) AS c$n", range(1, 60)));
        $before = 0;
        for ($n = 0; $n < 4000; ++$n) {
            self::assertSame($n, $database->one("SELECT $n AS n, $columns")?->int('n'));
            $before = 500 === $n ? self::residentBytes() : $before;
        }
        self::assertLessThan(8_000_000, self::residentBytes() - $before);
        // One that was dropped is simply made again.
        self::assertSame(0, $database->one("SELECT 0 AS n, $columns")?->int('n'));
    }

    /** SQLite's own memory is not in PHP's count; proc(5), VmRSS. */
    private static function residentBytes(): int
    {
        preg_match('/^VmRSS:\s+(\d+) kB/m', (string) file_get_contents('/proc/self/status'), $found);

        return (int) ($found[1] ?? 0) * 1024;
    }
}
