<?php

declare(strict_types=1);

namespace Geschenk\Core\Sqlite;

use Geschenk\Core\Files\ScratchFolder;
use Geschenk\Core\Messenger\UnusableInput;

/**
 * A database that came from somebody's phone: opened as a copy, so that not even its write-ahead log is touched, and
 * treated as hostile: no trusted schema, nothing but reading allowed, every page checked before the first query. Where
 * pages are damaged, what can be saved of it is opened instead, and the damage says what that is short of.
 */
final class ForeignDatabase
{
    private const ALLOWED = [\SQLite3::READ, \SQLite3::SELECT, \SQLite3::FUNCTION, \SQLite3::RECURSIVE];

    private function __construct(
        public readonly Database $database,
        private readonly \SQLite3 $connection,
        private readonly ScratchFolder $scratch,
        private readonly string $origin,
        public readonly ?Damage $damage,
        /** of the copy that is read, for as long as this is open */
        public readonly string $path,
    ) {
    }

    /**
     * @param array<string, string> $tables  statements that make the tables which are wanted, by name: what is saved of a damaged database
     * @param string                $indexes statements that make its indexes, a line each
     *
     * @throws UnusableInput when it is no database, cut short, or so damaged that nothing can be saved
     */
    public static function open(string $path, array $tables, string $indexes): self
    {
        $scratch = self::copy($path);
        $copy = $scratch->path.'/foreign.db';
        $logDamage = WriteAheadLog::damage($copy.'-wal');
        try {
            if (null === $logDamage) {
                $foreign = self::connect($scratch, $copy, $path, null);
                $verdict = $foreign->database->one('PRAGMA quick_check(1)')?->nullableText('quick_check') ?? 'no answer';
                if ('ok' === $verdict) {
                    $foreign->close(false);

                    return self::connect($scratch, $copy, $path, null)->locked();
                }
                $foreign->close(false);
            }
        } catch (\Exception) {
            // Whatever SQLite says of it, the pages are looked at one by one now.
        }
        try {
            $frames = WriteAheadLog::apply($copy.'-wal', $copy);
            @unlink($copy.'-wal');
            @unlink($copy.'-shm');
            $damage = Salvage::into($copy, $scratch->path.'/saved.db', $tables, $indexes, $frames);

            return self::connect($scratch, $scratch->path.'/saved.db', $path, $damage)->locked();
        } catch (\UnexpectedValueException $error) {
            throw UnusableInput::damaged($path, $error->getMessage());
        } catch (\Exception $error) {
            if (\Exception::class !== $error::class) {
                throw $error;
            }
            throw UnusableInput::damaged($path, $error->getMessage());
        }
    }

    /**
     * For a first look at what it is, without checking every page.
     *
     * @throws UnusableInput when it is no database or cut short
     */
    public static function peek(string $path): self
    {
        $scratch = self::copy($path);
        try {
            return self::connect($scratch, $scratch->path.'/foreign.db', $path, null)->locked();
        } catch (\Exception $error) {
            throw UnusableInput::damaged($path, $error->getMessage());
        }
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
        $this->locked();

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

    public function close(bool $forGood = true): void
    {
        $this->database->close();
        if ($forGood) {
            $this->scratch->remove();
        }
    }

    /** @throws UnusableInput */
    private static function copy(string $path): ScratchFolder
    {
        self::checkHeader($path);
        $scratch = ScratchFolder::make();
        foreach (['', '-wal'] as $suffix) {
            if (is_link($path.$suffix)) {
                throw UnusableInput::notMessengerData($path.$suffix);
            }
            if (is_file($path.$suffix) && !@copy($path.$suffix, $scratch->path.'/foreign.db'.$suffix)) {
                throw UnusableInput::unreadable($path.$suffix);
            }
        }

        return $scratch;
    }

    private static function connect(ScratchFolder $scratch, string $copy, string $origin, ?Damage $damage): self
    {
        $connection = new \SQLite3($copy, \SQLITE3_OPEN_READWRITE);
        $database = new Database($connection);
        $database->execute('PRAGMA trusted_schema = OFF; PRAGMA cell_size_check = ON; PRAGMA mmap_size = 0; PRAGMA temp_store = FILE; PRAGMA cache_size = -8000');

        return new self($database, $connection, $scratch, $origin, $damage, $copy);
    }

    private function locked(): self
    {
        $this->connection->setAuthorizer(static fn (int $action): int => in_array($action, self::ALLOWED, true) ? \SQLite3::OK : \SQLite3::DENY);

        return $this;
    }

    private static function checkHeader(string $path): void
    {
        if (!is_file($path) || !is_readable($path)) {
            throw UnusableInput::unreadable($path);
        }
        $header = DatabaseHeader::of($path) ?? throw UnusableInput::notSqlite($path);
        $size = (int) filesize($path);
        if (!$header->isWhole) {
            throw UnusableInput::cutShort($path, $size, 512);
        }
        if (!$header->isUtf8) {
            throw UnusableInput::otherEncoding($path);
        }
        if ($size < $header->pageSize * $header->pages) {
            throw UnusableInput::cutShort($path, $size, $header->pageSize * $header->pages);
        }
    }
}
