<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger\Otterpost;

use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Messenger\Format;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\ForeignTable;
use Geschenk\Core\Sqlite\Row;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Whole tables that lack the key that the format has: their rows have their numbers all the same. */
final class WithoutKeysTest extends TestCase
{
    use Scratch;

    /** @return iterable<string, array{string, string, string}> platform, database, what becomes of its keys */
    public static function ways(): iterable
    {
        foreach (['android' => 'pouch.db', 'ios' => 'Pouch.sqlite'] as $platform => $database) {
            yield "$platform, no key" => [$platform, $database, 'INTEGER'];
            yield "$platform, a key of another type" => [$platform, $database, 'INTEGEQ PRIMARY KEY'];
            yield "$platform, a number that says nothing" => [$platform, $database, 'NULL'];
        }
    }

    #[DataProvider('ways')]
    public function testAllOfThemAreRead(string $platform, string $database, string $key): void
    {
        [$format, $whole] = $this->written($platform);
        $changed = $this->withoutKeys("{$this->path('data')}/$database", $key);
        self::assertGreaterThan(8, $changed);
        $found = $this->read($format, 'found.sqlite');
        self::assertSame($whole->messageCount(), $found->messageCount());
        self::assertSame(
            array_diff_key($whole->summary(), ['lost' => 0]), array_diff_key($found->summary(), ['lost' => 0]),
        );
        self::assertSame([0, false], [$found->summary()['lost'], $found->isLossUncounted()]);
        self::assertSame($whole->findings(), $found->findings());
    }

    public function testWhereTwoRowsSayThatTheyAreOneItIsDamageThatIsTold(): void
    {
        [$format] = $this->written('android');
        $path = "{$this->path('data')}/pouch.db";
        $this->withoutKeys($path, 'INTEGER');
        $connection = new \SQLite3($path);
        $connection->exec('UPDATE slip SET slip_id = (SELECT MIN(slip_id) FROM slip)');
        $connection->close();
        $found = $this->read($format, 'found.sqlite');
        self::assertTrue($found->summary()['lost'] > 0 || $found->isLossUncounted());
    }

    /** @return array{Format, ChatStore} */
    private function written(string $platform): array
    {
        $chats = Chats::random(4711, $this->path('chats.sqlite'), $this->path('files'), $platform);
        $format = Chats::format($platform);
        $format->writer()?->write(
            $chats, new FolderFiles($this->path('files')), Folder::make($this->path('data')), new NoProgress(),
        );

        return [$format, $this->read($format, 'whole.sqlite')];
    }

    private function read(Format $format, string $name): ChatStore
    {
        $store = new StoreWriter($this->path($name));
        $reader = (new Formats())->detect($this->path('data'))?->reader() ?? $format->reader();
        $reader->read($this->path('data'), new FolderFiles($this->path('data')), $store, new NoProgress());
        $store->finish();

        return new ChatStore($this->path($name));
    }

    /** @return int tables that had a key of one number */
    private function withoutKeys(string $path, string $key): int
    {
        $connection = new \SQLite3($path);
        $connection->exec('PRAGMA wal_checkpoint(TRUNCATE); PRAGMA journal_mode = DELETE');
        $database = new Database($connection);
        $tables = $indexes = [];
        foreach ($database->few('SELECT type, name, sql FROM sqlite_schema WHERE sql IS NOT NULL') as $row) {
            'table' === $row->text('type')
                ? $tables[$row->text('name')] = $row->text('sql')
                : $indexes[] = $row->text('sql');
        }
        $changed = 0;
        foreach ($tables as $name => $sql) {
            if (1 !== preg_match('/(\w+) INTEGER PRIMARY KEY/i', $sql, $column)) {
                continue;
            }
            ++$changed;
            $quoted = ForeignTable::quoted($name);
            $without = preg_replace('/INTEGER PRIMARY KEY/i', 'NULL' === $key ? 'INTEGER' : $key, $sql);
            $database->execute("CREATE TEMP TABLE rows_of AS SELECT * FROM $quoted; DROP TABLE $quoted; $without");
            $names = implode(', ', array_map(
                static fn (Row $row): string => ForeignTable::quoted($row->text('name')),
                $database->few(sprintf("SELECT name FROM pragma_table_info('%s')", $name)),
            ));
            // The row's own number is what the key was.
            $database->execute("INSERT INTO $quoted (rowid, $names) SELECT {$column[1]}, $names FROM temp.rows_of");
            $database->execute('DROP TABLE temp.rows_of');
            if ('INTEGER' !== $key) {
                $database->execute("UPDATE $quoted SET {$column[1]} = NULL");
            }
        }
        foreach ($indexes as $sql) {
            $database->execute(str_replace('CREATE INDEX', 'CREATE INDEX IF NOT EXISTS', $sql));
        }
        $database->close();

        return $changed;
    }
}
