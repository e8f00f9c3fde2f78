<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Sqlite;

use Geschenk\Core\Sqlite\Damage;
use Geschenk\Core\Sqlite\LogReading;
use Geschenk\Core\Sqlite\Salvage;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** Reading a database page by page, without the help of SQLite. */
final class SalvageTest extends TestCase
{
    use Scratch;

    private const TABLES = [
        'note' => 'CREATE TABLE note (note_id INTEGER PRIMARY KEY, room INTEGER NOT NULL, body TEXT, weight REAL, '
            .'raw BLOB)',
    ];
    private const INDEXES = 'CREATE INDEX note_in_room ON note (room, note_id);';

    public function testEveryKindOfValueComesBackFromAWholeDatabase(): void
    {
        $rows = [];
        foreach ([
            0, 1, -1, 127, -128, 32_767, -32_768, 8_388_607, -8_388_608, 2_147_483_647, -2_147_483_648,
            140_737_488_355_327, \PHP_INT_MAX, \PHP_INT_MIN,
        ] as $n => $number) {
            $rows[] = [$n + 1, $number, str_repeat('ü', $n * 90), $number / 3, "\0\xFF".$n];
        }
        $rows[] = [500_000_000_000, 7, null, null, null];
        $rows[] = [-5, 7, str_repeat('long ', 30_000), 1.0, random_bytes(20_000)];
        $this->make($rows);
        $damage = $this->salvage();
        self::assertSame([0, []], [$damage->rows(), $damage->unreadablePages]);
        self::assertEquals($this->rows('before.db'), $this->rows('saved.db'));
    }

    public function testARowThatGoesOnInABrokenPageIsLostAloneAndCounted(): void
    {
        $rows = [];
        for ($n = 1; $n <= 60; ++$n) {
            $rows[] = [$n, $n % 3, 30 === $n ? str_repeat('x', 9_000) : 'short '.$n, null, null];
        }
        $this->make($rows);
        $bytes = (string) file_get_contents($this->path('before.db'));
        // The overflow page of the one long row: the only page that is nothing but x after its first four bytes.
        $found = 0;
        for ($page = 0; $page < strlen($bytes) / 4096; ++$page) {
            if (str_repeat('x', 4_000) === substr($bytes, $page * 4096 + 4, 4_000)) {
                // Its pointer to the next page leads nowhere.
                $bytes = substr_replace($bytes, pack('N', 99_999), $page * 4096, 4);
                ++$found;
            }
        }
        self::assertGreaterThan(0, $found);
        file_put_contents($this->path('before.db'), $bytes);
        $damage = $this->salvage();
        self::assertSame(['note_in_room' => [0 => 1]], $damage->lostRows);
        self::assertCount(59, $this->rows('saved.db'));
    }

    public function testColumnsThatWeDoNotKnowAreSavedToo(): void
    {
        $this->make(
            [[1, 1, 'a', null, null]], 'ALTER TABLE note ADD COLUMN shimmer TEXT', "UPDATE note SET shimmer = 'aurora'",
        );
        $this->salvage();
        self::assertSame('aurora', (new \SQLite3($this->path('saved.db')))->querySingle('SELECT shimmer FROM note'));
    }

    public function testAForeignStatementIsNotRunBeyondMakingItsTable(): void
    {
        $this->make([[1, 1, 'a', null, null]]);
        // A path of any length, as seen from there: it has to fit where the table's own statement was.
        $hostile = "CREATE TABLE note(a); ATTACH 's.db' AS x; CREATE TABLE x.y(z)";
        $here = (string) getcwd();
        self::assertTrue(chdir($this->path('')));
        $bytes = (string) file_get_contents($this->path('before.db'));
        self::assertLessThanOrEqual(strlen(self::TABLES['note']), strlen($hostile));
        file_put_contents(
            $this->path('before.db'),
            str_replace(self::TABLES['note'], str_pad($hostile, strlen(self::TABLES['note'])), $bytes),
        );
        $this->salvage();
        self::assertTrue(chdir($here));
        self::assertFileDoesNotExist($this->path('s.db'));
    }

    public function testPagesThatLeadInACircleEnd(): void
    {
        $rows = [];
        for ($n = 1; $n <= 2_000; ++$n) {
            $rows[] = [$n, 1, 'text that takes some room '.$n, null, null];
        }
        $this->make($rows);
        $database = new \SQLite3($this->path('before.db'));
        $root = $database->querySingle("SELECT rootpage FROM sqlite_schema WHERE name = 'note'");
        $database->close();
        self::assertIsInt($root);
        $bytes = (string) file_get_contents($this->path('before.db'));
        // The page above all others names itself as its last child.
        file_put_contents(
            $this->path('before.db'), substr_replace($bytes, pack('N', $root), ($root - 1) * 4096 + 8, 4),
        );
        $damage = $this->salvage();
        self::assertSame(1, $damage->unreadablePages['note'] ?? 0);
        // The leaf that it should have named is found as one that nobody leads to.
        self::assertSame(2_000, count($this->rows('saved.db')) + $damage->rows());
    }

    public function testWithoutTheListOfTablesRowsAreKnownByTheirShape(): void
    {
        $this->make([[1, 1, 'a', 0.5, null], [2, 1, 'b', 0.5, null]]);
        $bytes = (string) file_get_contents($this->path('before.db'));
        file_put_contents($this->path('before.db'), substr_replace($bytes, str_repeat("\0", 3_900), 100, 3_900));
        $damage = $this->salvage();
        self::assertCount(2, $this->rows('saved.db'));
        self::assertSame(['note'], $damage->uncounted);
        file_put_contents($this->path('before.db'), substr($bytes, 0, 100).str_repeat("\0", 3_996));
        $this->expectException(\UnexpectedValueException::class);
        $this->expectExceptionMessage('list of its tables');
        $this->salvage();
    }

    /** @param list<array{int, int, string|null, float|null, string|null}> $rows */
    private function make(array $rows, string ...$changes): void
    {
        $database = new \SQLite3($this->path('before.db'));
        $database->exec('PRAGMA page_size = 4096;'.self::TABLES['note'].';'.self::INDEXES.'BEGIN');
        $insert = $database->prepare('INSERT INTO note VALUES (?, ?, ?, ?, ?)');
        self::assertInstanceOf(\SQLite3Stmt::class, $insert);
        foreach ($rows as $row) {
            foreach ([
                \SQLITE3_INTEGER, \SQLITE3_INTEGER, \SQLITE3_TEXT, \SQLITE3_FLOAT, \SQLITE3_BLOB,
            ] as $n => $type) {
                $insert->bindValue($n + 1, $row[$n], null === $row[$n] ? \SQLITE3_NULL : $type);
            }
            $insert->execute();
        }
        $insert->close();
        $database->exec('COMMIT');
        foreach ($changes as $change) {
            $database->exec($change);
        }
        $database->close();
    }

    private function salvage(): Damage
    {
        return Salvage::into(
            $this->path('before.db'), $this->path('saved.db'), self::TABLES, self::INDEXES, new LogReading(),
        );
    }

    /** @return list<array<array-key, mixed>> */
    private function rows(string $name): array
    {
        $database = new \SQLite3($this->path($name));
        $result = $database->query('SELECT note_id, room, CAST(body AS BLOB), weight, raw FROM note ORDER BY note_id');
        self::assertInstanceOf(\SQLite3Result::class, $result);
        $rows = [];
        while (is_array($row = $result->fetchArray(\SQLITE3_NUM))) {
            $rows[] = $row;
        }

        return $rows;
    }
}
