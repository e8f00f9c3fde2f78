<?php

declare(strict_types=1);

namespace Geschenk\Core\Sqlite;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\UnusableInput;

/**
 * A database that came from somebody's phone: opened as a copy, so that not even its write-ahead log is touched, and
 * treated as hostile. Before SQLite sees its tables, their statements are replaced by plain ones of our own making with
 * the same columns; views, triggers, virtual tables, checks, defaults and expressions are gone, so that nothing of them
 * can ever be worked out. Then the structure of every tree is checked, page by page and index against table. Where it
 * is not right, what can be saved is opened instead, and the damage says what that is short of.
 */
final class ForeignDatabase
{
    private const ALLOWED = [\SQLite3::READ, \SQLite3::SELECT, \SQLite3::FUNCTION, \SQLite3::RECURSIVE];
    private const COMPLAINTS = 10_000_000;

    /** @param array<string, list<string>> $found columns of the tables that are wanted; of others none */
    private function __construct(
        public readonly Database $database,
        private readonly \SQLite3 $connection,
        private readonly ScratchFolder $scratch,
        private readonly string $origin,
        public readonly ?Damage $damage,
        /** of the copy that is read, for as long as this is open */
        public readonly string $path,
        private readonly array $found,
        /** bytes behind the last page that the database knows of */
        public readonly int $bytesBehind,
    ) {
    }

    /**
     * @param array<string, string> $tables  statements that make the tables which are wanted, by name
     * @param string                $indexes statements that make its indexes, a line each
     *
     * @throws UnusableInput when it is no database, cut short, or so damaged that nothing can be saved
     */
    public static function open(string $path, array $tables, string $indexes): self
    {
        $copy = self::copy($path);
        $log = $copy->log;
        try {
            $found = self::makePlain($copy->path, $tables, $indexes);
            if (null !== $found && null === self::complaint($copy, $found, $indexes)
                && self::giveKeys($copy->path, $found, $tables)) {
                $damage = $log->isShort() || $log->mended > 0 ? new Damage([], [], $log, []) : null;

                return self::connect($copy, $damage, self::columns($found))->locked();
            }
        } catch (\UnexpectedValueException) {
            // Its list of tables is damaged; the pages are looked at one by one now.
        } catch (\Exception $error) {
            // PHP 8.2's sqlite3 extension throws plain \Exception: whatever it says, the pages are looked at one by
            // one.
            if (\Exception::class !== $error::class || DiskFull::isMeantBy($error)) {
                throw $error;
            }
        }

        return self::salvaged($path, $tables, $indexes);
    }

    /**
     * @param array<string, string> $tables
     *
     * @throws UnusableInput
     */
    private static function salvaged(string $path, array $tables, string $indexes): self
    {
        // Copied again: what was made plain is not as it came.
        $copy = self::copy($path);
        $saved = $copy->scratch->path.'/saved.db';
        try {
            $damage = Salvage::into($copy->path, $saved, $tables, $indexes, $copy->log);
            $others = array_fill_keys(self::otherTables($copy->path, $tables), []);

            return self::connect(
                $copy->savedIn($saved), $damage, $others + self::savedColumns($saved, $tables),
            )->locked();
        } catch (\UnexpectedValueException $error) {
            throw UnusableInput::damaged($path, $error->getMessage());
        } catch (\Exception $error) {
            if (\Exception::class !== $error::class || DiskFull::isMeantBy($error)) {
                throw $error;
            }
            throw UnusableInput::damaged($path, $error->getMessage());
        }
    }

    /**
     * For a first look at what it is, without checking every page.
     *
     * @param array<string, string> $tables statements that make the tables which are looked at, by name
     *
     * @throws UnusableInput when it is no database or cut short
     */
    public static function peek(string $path, array $tables): self
    {
        $copy = self::copy($path);
        try {
            $found = self::makePlain($copy->path, $tables, '')
                ?? throw new \UnexpectedValueException('its list of tables is damaged');

            return self::connect($copy, null, self::columns($found))->locked();
        } catch (\Exception $error) {
            throw DiskFull::isMeantBy($error) ? $error : UnusableInput::damaged($path, $error->getMessage());
        }
    }

    /**
     * Columns by real table, those of tables that are not wanted left away; views and virtual tables are no tables.
     *
     * @return array<string, list<string>>
     */
    public function tables(): array
    {
        return $this->found;
    }

    /**
     * Runs a reader's work and turns what goes wrong in the middle of it into an answer for the technician.
     *
     * @template T
     *
     * @param callable(): T $work
     *
     * @return T
     *
     * @throws UnusableInput
     */
    public function guard(callable $work): mixed
    {
        try {
            return $work();
        } catch (\UnexpectedValueException|\TypeError|\ValueError $error) {
            throw UnusableInput::unexpected($this->origin, $error);
        } catch (\Exception $error) {
            // PHP 8.2's sqlite3 extension throws plain \Exception.
            if (\Exception::class === $error::class && !DiskFull::isMeantBy($error)) {
                throw UnusableInput::damaged($this->origin, $error->getMessage());
            }
            throw $error;
        }
    }

    public function close(bool $forGood = true): void
    {
        $this->database->close();
        if ($forGood) {
            $this->scratch->remove();
        }
    }

    /** @throws UnusableInput */
    private static function copy(string $path): ForeignCopy
    {
        $header = self::checkHeader($path);
        $scratch = ScratchFolder::make();
        $copy = $scratch->path.'/foreign.db';
        foreach (['', '-wal'] as $suffix) {
            if (is_link($path.$suffix)) {
                throw UnusableInput::notMessengerData($path.$suffix);
            }
            if (is_file($path.$suffix)) {
                $source = @fopen($path.$suffix, 'r') ?: throw UnusableInput::unreadable($path.$suffix);
                $target = Disk::open($copy.$suffix, 'w');
                Disk::copy($source, $target, $path.$suffix);
                fclose($target);
                fclose($source);
            }
        }
        $size = (int) filesize($copy);
        $behind = $header->pages > 0
            ? max(0, $size - $header->pageSize * $header->pages)
            : $size % max(1, $header->pageSize);
        $log = WriteAheadLog::apply($copy.'-wal', $copy, $header->pageSize);
        @unlink($copy.'-wal');
        // Its own journalling is of no use to a copy that nobody else reads.
        $stream = Disk::open($copy, 'r+');
        fseek($stream, DatabaseHeader::JOURNALLING);
        Disk::write($stream, "\1\1", $copy);
        fclose($stream);

        return new ForeignCopy($scratch, $path, $copy, $log, $behind);
    }

    /**
     * Leaves nothing in the list of tables but the wanted ones, their columns as they are, and the indexes that are
     * ours.
     *
     * @param array<string, string> $tables
     *
     * @return array<string, ForeignTable|null>|null tables by name, null for one that is not wanted; null when a wanted
     * one can't be understood
     *
     * @throws \UnexpectedValueException when the list is damaged
     */
    private static function makePlain(string $copy, array $tables, string $indexes): ?array
    {
        $ours = [];
        preg_match_all('/^\s*(CREATE INDEX (\w+) .*?);?\s*$/m', $indexes, $known, \PREG_SET_ORDER);
        foreach ($known as [, $statement, $name]) {
            $ours[$name] = $statement;
        }
        $found = $statements = [];
        foreach (Salvage::schema($copy) as $row => $entry) {
            $name = $entry['name'];
            if ('table' === $entry['type'] && !str_starts_with($name, 'sqlite_')) {
                $found[$name] = isset($tables[$name]) ? ForeignTable::of($entry['sql'], $tables[$name]) : null;
                if (isset($tables[$name])) {
                    $statements[$row] = $found[$name]?->cleanStatement($name) ?? null;
                }
            } elseif ('index' === $entry['type'] && isset($ours[$name]) && ForeignTable::isSame(
                $entry['sql'], $ours[$name],
            )) {
                $statements[$row] = $ours[$name];
            }
        }
        if (in_array(null, $statements, true)) {
            return null;
        }
        $before = ini_set('sqlite3.defensive', '0');
        $connection = new \SQLite3($copy, \SQLITE3_OPEN_READWRITE);
        ini_set('sqlite3.defensive', (string) $before);
        $database = new Database($connection);
        // In this order: without its own statements being believed, not even those that SQLite can't parse stop it.
        $database->execute(
            'PRAGMA writable_schema = ON; PRAGMA trusted_schema = OFF; PRAGMA journal_mode = OFF; '
                .'PRAGMA synchronous = OFF; BEGIN',
        );
        $rows = array_map(
            static fn (Row $row): int => $row->int('id'),
            $database->few('SELECT rowid AS id FROM sqlite_schema ORDER BY rowid'),
        );
        foreach ($rows as $row => $id) {
            isset($statements[$row])
                ? $database->run('UPDATE sqlite_schema SET sql = ? WHERE rowid = ?', [$statements[$row], $id])
                : $database->run('DELETE FROM sqlite_schema WHERE rowid = ?', [$id]);
        }
        $database->execute('COMMIT');
        $database->close();

        return $found;
    }

    /**
     * A whole table may lack the key that the format's own has, or have it misspelt: then its rows have their numbers
     * all the same, and where the key's column says nothing that is what it would have said.
     *
     * @param array<string, ForeignTable|null> $found
     * @param array<string, string>            $tables
     *
     * @return bool false where two rows say that they are the same: what they are has to be looked for row by row
     */
    private static function giveKeys(string $copy, array $found, array $tables): bool
    {
        $lacking = array_filter(
            $found, static fn (?ForeignTable $table, string $name): bool => null !== $table
                && !$table->hasRowIdOf($tables[$name]), \ARRAY_FILTER_USE_BOTH,
        );
        if ([] === $lacking) {
            return true;
        }
        $database = Database::create($copy);
        try {
            foreach (array_keys($lacking) as $name) {
                foreach (ForeignTable::ours($tables[$name])->rowIds() as $key) {
                    [$table, $column] = [ForeignTable::quoted($name), ForeignTable::quoted($key)];
                    $database->execute(
                        "UPDATE $table SET $column = rowid WHERE $column IS NULL OR typeof($column) <> 'integer'",
                    );
                    $twice = "SELECT 1 AS here FROM $table GROUP BY $column HAVING COUNT(*) > 1 LIMIT 1";
                    if (null !== $database->one($twice)) {
                        return false;
                    }
                }
            }
        } finally {
            $database->close();
        }

        return true;
    }

    /**
     * What is wrong with the structure of a database that was made plain; null when nothing is.
     *
     * @param array<string, ForeignTable|null> $found
     */
    private static function complaint(ForeignCopy $copy, array $found, string $indexes): ?string
    {
        $plain = self::connect($copy, null, []);
        try {
            foreach ($plain->database->rows(sprintf('PRAGMA integrity_check(%d)', self::COMPLAINTS)) as $row) {
                foreach (explode("\n", $row->text('integrity_check')) as $line) {
                    // Pages of what is not wanted are nobody's now.
                    if ('ok' !== $line && !str_starts_with($line, '*** in database') && 1 !== preg_match(
                        '/^Page \d+ is never used$/', $line,
                    )) {
                        return $line;
                    }
                }
            }
            preg_match_all('/CREATE INDEX \w+ ON (\w+) /', $indexes, $indexed);
            $unindexed = [];
            foreach ($plain->database->few("SELECT name, rootpage FROM sqlite_schema WHERE type = 'table'") as $row) {
                $table = $found[$row->text('name')] ?? null;
                if (null !== $table && $table->hasRowIds() && !in_array($row->text('name'), $indexed[1], true)) {
                    $unindexed[$row->text('name')] = ['root' => $row->int('rootpage'), 'columns' => $table->columns];
                }
            }
        } finally {
            $plain->close(false);
        }

        return Salvage::misshapen($copy->path, $unindexed);
    }

    /**
     * @param array<string, ForeignTable|null> $found
     *
     * @return array<string, list<string>>
     */
    private static function columns(array $found): array
    {
        ksort($found);

        return array_map(static fn (?ForeignTable $table): array => null === $table ? [] : $table->names(), $found);
    }

    /**
     * @param array<string, string> $tables
     *
     * @return array<string, list<string>>
     */
    private static function savedColumns(string $path, array $tables): array
    {
        $database = Database::openReadOnly($path);
        $columns = [];
        foreach (array_keys($tables) as $table) {
            foreach ($database->few(
                'SELECT CAST(name AS BLOB) AS name FROM pragma_table_info(?) ORDER BY cid', [$table],
            ) as $row) {
                $columns[$table][] = $row->text('name');
            }
        }
        $database->close();

        return $columns;
    }

    /**
     * @param array<string, string> $tables
     *
     * @return list<string> as far as the list of tables can be read
     */
    private static function otherTables(string $path, array $tables): array
    {
        try {
            $names = array_column(
                array_filter(
                    Salvage::schema($path),
                    static fn (array $entry): bool => 'table' === $entry['type'] && !str_starts_with(
                        $entry['name'], 'sqlite_',
                    ),
                ),
                'name',
            );
        } catch (\UnexpectedValueException) {
            return [];
        }

        return array_values(array_diff($names, array_keys($tables)));
    }

    /** @param array<string, list<string>> $found */
    private static function connect(ForeignCopy $copy, ?Damage $damage, array $found): self
    {
        $connection = new \SQLite3($copy->path, \SQLITE3_OPEN_READWRITE);
        $database = new Database($connection);
        $database->execute(
            'PRAGMA trusted_schema = OFF; PRAGMA cell_size_check = ON; PRAGMA ignore_check_constraints = ON; '
                .'PRAGMA mmap_size = 0; PRAGMA temp_store = FILE; PRAGMA cache_size = -8000',
        );

        return new self(
            $database, $connection, $copy->scratch, $copy->origin, $damage, $copy->path, $found, $copy->bytesBehind,
        );
    }

    private function locked(): self
    {
        $this->connection->setAuthorizer(
            static fn (int $action): int => in_array($action, self::ALLOWED, true) ? \SQLite3::OK : \SQLite3::DENY,
        );

        return $this;
    }

    private static function checkHeader(string $path): DatabaseHeader
    {
        if (!is_file($path) || !is_readable($path)) {
            throw UnusableInput::unreadable($path);
        }
        $size = (int) filesize($path);
        $header = DatabaseHeader::of($path) ?? throw $size < 8
            ? UnusableInput::cutShort($path, $size, 512)
            : UnusableInput::notSqlite($path);
        if (!$header->isWhole) {
            throw UnusableInput::cutShort($path, $size, 512);
        }
        if (!$header->isUtf8) {
            throw UnusableInput::otherEncoding($path);
        }
        if ($header->pageSize < 512 || 0 !== ($header->pageSize & ($header->pageSize - 1))) {
            throw UnusableInput::damaged($path, 'its first page is damaged');
        }
        if ($size < $header->pageSize * max(1, $header->pages)) {
            throw UnusableInput::cutShort($path, $size, $header->pageSize * max(1, $header->pages));
        }

        return $header;
    }
}
