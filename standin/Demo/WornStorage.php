<?php

declare(strict_types=1);

namespace Geschenk\Standin\Demo;

/** Spoils one page in the middle of a phone's database, as worn storage does. */
final class WornStorage
{
    public static function spoil(string $database, string $table): void
    {
        $connection = new \SQLite3($database);
        $connection->exec('PRAGMA wal_checkpoint(TRUNCATE)');
        $root = $connection->querySingle(
            sprintf("SELECT rootpage FROM sqlite_schema WHERE name = '%s'", \SQLite3::escapeString($table)),
        );
        $size = $connection->querySingle('PRAGMA page_size');
        $connection->close();
        if (!is_int($root) || !is_int($size)) {
            throw new \LogicException('There is no table '.$table);
        }
        $bytes = (string) file_get_contents($database);
        // The root page of a table of some size lists its leaf pages,
        // https://www.sqlite.org/fileformat2.html#b_tree_pages
        $at = ($root - 1) * $size;
        $count = self::number('n', $bytes, $at + 3);
        $cell = self::number('n', $bytes, $at + 12 + 2 * intdiv($count, 2));
        $leaf = self::number('N', $bytes, $at + $cell);
        file_put_contents(
            $database, substr_replace($bytes, str_repeat("\xA5\x5A", intdiv($size, 2)), ($leaf - 1) * $size, $size),
        );
    }

    private static function number(string $format, string $bytes, int $at): int
    {
        /** @var array{1: int} $number */
        $number = unpack($format, $bytes, $at);

        return $number[1];
    }
}
