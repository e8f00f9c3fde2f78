<?php

declare(strict_types=1);

namespace Geschenk\Core\Sqlite;

use Geschenk\Core\Files\ScratchFolder;
use Geschenk\Core\Messenger\UnusableInput;

/**
 * A database that came from somebody's phone: opened as a copy, so that not even its write-ahead log is touched, and
 * treated as hostile: no trusted schema, nothing but reading allowed, every page checked before the first query.
 */
final class ForeignDatabase
{
    private const ALLOWED = [\SQLite3::READ, \SQLite3::SELECT, \SQLite3::FUNCTION, \SQLite3::RECURSIVE];

    private function __construct(
        public readonly Database $database,
        private readonly \SQLite3 $connection,
        private readonly ScratchFolder $scratch,
        private readonly string $origin,
    ) {
    }

    /** @throws UnusableInput when it is no database, cut short or damaged */
    public static function open(string $path): self
    {
        self::checkHeader($path);
        $scratch = ScratchFolder::make();
        $copy = $scratch->path.'/foreign.db';
        foreach (['', '-wal'] as $suffix) {
            if (is_link($path.$suffix)) {
                throw UnusableInput::notMessengerData($path.$suffix);
            }
            if (is_file($path.$suffix) && !@copy($path.$suffix, $copy.$suffix)) {
                throw UnusableInput::unreadable($path.$suffix);
            }
        }
        $damage = WriteAheadLog::damage($copy.'-wal');
        if (null !== $damage) {
            throw UnusableInput::damaged($path, $damage);
        }
        try {
            $connection = new \SQLite3($copy, \SQLITE3_OPEN_READWRITE);
            $database = new Database($connection);
            $database->execute('PRAGMA trusted_schema = OFF; PRAGMA cell_size_check = ON; PRAGMA mmap_size = 0; PRAGMA temp_store = FILE; PRAGMA cache_size = -8000');
            $verdict = $database->one('PRAGMA quick_check(1)')?->nullableText('quick_check') ?? 'no answer';
        } catch (\Exception $error) {
            throw UnusableInput::damaged($path, $error->getMessage());
        }
        if ('ok' !== $verdict) {
            throw UnusableInput::damaged($path, $verdict);
        }
        $connection->setAuthorizer(static fn (int $action): int => in_array($action, self::ALLOWED, true) ? \SQLite3::OK : \SQLite3::DENY);

        return new self($database, $connection, $scratch, $path);
    }

    /**
     * Columns by real table; views and virtual tables are left out, since nothing of ours may run their code.
     *
     * @return array<string, list<string>>
     */
    public function tables(): array
    {
        $this->connection->setAuthorizer(null);
        $tables = [];
        foreach ($this->database->rows("SELECT name FROM pragma_table_list WHERE schema = 'main' AND type = 'table' AND name NOT LIKE 'sqlite_%' ORDER BY name") as $row) {
            $columns = [];
            foreach ($this->database->rows('SELECT name FROM pragma_table_info(?) ORDER BY cid', [$row->text('name')]) as $column) {
                $columns[] = $column->text('name');
            }
            $tables[$row->text('name')] = $columns;
        }
        $this->connection->setAuthorizer(static fn (int $action): int => in_array($action, self::ALLOWED, true) ? \SQLite3::OK : \SQLite3::DENY);

        return $tables;
    }

    /**
     * Runs a reader's work and turns what SQLite says in the middle of it into an answer for the technician.
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
        } catch (\Exception $error) {
            // PHP 8.2's sqlite3 extension throws plain \Exception.
            if ($error instanceof \UnexpectedValueException || \Exception::class === $error::class) {
                throw UnusableInput::damaged($this->origin, $error->getMessage());
            }
            throw $error;
        }
    }

    public function close(): void
    {
        $this->database->close();
        $this->scratch->remove();
    }

    private static function checkHeader(string $path): void
    {
        if (!is_file($path) || !is_readable($path)) {
            throw UnusableInput::unreadable($path);
        }
        $header = (string) file_get_contents($path, false, null, 0, 100);
        // https://www.sqlite.org/fileformat.html#the_database_header
        if (!str_starts_with($header, "SQLite format 3\0")) {
            throw UnusableInput::notSqlite($path);
        }
        $size = (int) filesize($path);
        if (strlen($header) < 100) {
            throw UnusableInput::cutShort($path, $size, 512);
        }
        /** @var array{page: int, changed: int, pages: int, valid: int}|false $numbers four big-endian numbers */
        $numbers = unpack('npage/x6/Nchanged/Npages/x60/Nvalid', $header, 16);
        if (false === $numbers) {
            return;
        }
        $page = 1 === $numbers['page'] ? 65536 : $numbers['page'];
        // The page count is only meaningful while the two change counters agree.
        if ($numbers['changed'] === $numbers['valid'] && $size < $page * $numbers['pages']) {
            throw UnusableInput::cutShort($path, $size, $page * $numbers['pages']);
        }
    }
}
