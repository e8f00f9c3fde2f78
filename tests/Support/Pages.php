<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support;

/** The pages of an SQLite database, for tests that harm them. */
final class Pages
{
    public const SIZE = 4096;

    /** @return list<int> numbers of the pages of a table or index that are of a type */
    public static function of(string $path, string $name, int $type): array
    {
        $database = new \SQLite3($path);
        $bytes = (string) file_get_contents($path);
        $root = $database->querySingle("SELECT rootpage FROM sqlite_schema WHERE name = '$name'");
        $database->close();
        $root = is_int($root) ? $root : throw new \LogicException("There is no $name.");
        $pages = [];
        $waiting = [$root];
        while (null !== ($page = array_shift($waiting))) {
            $at = ($page - 1) * self::SIZE;
            $here = ord($bytes[$at]);
            if ($here === $type) {
                $pages[] = $page;
            }
            if (0x05 === $here || 0x02 === $here) {
                /** @var array{1: int} $count */
                $count = unpack('n', $bytes, $at + 3);
                for ($i = 0; $i < $count[1]; ++$i) {
                    /** @var array{1: int} $cell */
                    $cell = unpack('n', $bytes, $at + 12 + 2 * $i);
                    /** @var array{1: int} $child */
                    $child = unpack('N', $bytes, $at + $cell[1]);
                    $waiting[] = $child[1];
                }
                /** @var array{1: int} $right */
                $right = unpack('N', $bytes, $at + 8);
                $waiting[] = $right[1];
            }
        }

        return $pages;
    }

    /**
     * Makes leaf pages of a table unreadable, in a database without a log.
     *
     * @param list<int> $which of its leaf pages, from 0
     */
    public static function zero(string $path, string $table, array $which): void
    {
        $database = new \SQLite3($path);
        $database->exec('PRAGMA wal_checkpoint(TRUNCATE); PRAGMA journal_mode = DELETE');
        $database->close();
        $pages = self::of($path, $table, 0x0D);
        $bytes = (string) file_get_contents($path);
        foreach ($which as $n) {
            $at = (($pages[$n] ?? throw new \LogicException("There is no leaf $n.")) - 1) * self::SIZE;
            $bytes = substr_replace($bytes, str_repeat("\0", self::SIZE), $at, self::SIZE);
        }
        file_put_contents($path, $bytes);
    }
}
