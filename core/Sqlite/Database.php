<?php

declare(strict_types=1);

namespace Geschenk\Core\Sqlite;

use Geschenk\Core\Files\Durable\DiskFailure;

/** A thin layer over one SQLite connection: typed parameters in, typed rows out, every failure an exception. */
final class Database
{
    private const KEPT = 100;

    /** @var array<string, \SQLite3Stmt> */
    private array $prepared = [];

    /** @var array<string, string> what is attached and only read */
    private array $onlyRead = [];

    public function __construct(private readonly \SQLite3 $connection)
    {
        $connection->enableExceptions(true);
        $connection->busyTimeout(10_000);
    }

    /** Makes a new file, or opens an existing one, for writing by this process alone. */
    public static function create(string $path): self
    {
        $database = new self(new \SQLite3($path, \SQLITE3_OPEN_READWRITE | \SQLITE3_OPEN_CREATE));
        // A half-made file is thrown away and made anew, so it need not survive a power cut while it is being made.
        $database->execute(
            'PRAGMA main.journal_mode = OFF; PRAGMA main.synchronous = OFF; PRAGMA main.locking_mode = EXCLUSIVE; '
                .'PRAGMA temp_store = FILE; PRAGMA main.cache_size = -4000',
        );

        return $database;
    }

    /** Like create(), in the place of what an interrupted attempt left there. */
    public static function createAnew(string $path): self
    {
        foreach (['', '-wal', '-shm', '-journal'] as $suffix) {
            if (is_file($path.$suffix) && !@unlink($path.$suffix)) {
                throw DiskFailure::at('remove', $path.$suffix);
            }
        }

        return self::create($path);
    }

    public static function openReadOnly(string $path): self
    {
        $database = new self(new \SQLite3($path, \SQLITE3_OPEN_READONLY));
        $database->execute('PRAGMA trusted_schema = OFF');

        return $database;
    }

    public function execute(string $sql): void
    {
        $this->connection->exec($sql);
    }

    /**
     * @param array<int|string, scalar|Blob|null> $parameters
     *
     * @return \Generator<int, Row>
     */
    public function rows(string $sql, array $parameters = []): \Generator
    {
        // Not from the cache: a caller may run the same query again while it still walks this one.
        $statement = $this->prepareFresh($sql);
        $this->bind($statement, $parameters);
        $result = $statement->execute();
        if (false === $result) {
            return;
        }
        while (false !== ($values = $result->fetchArray(\SQLITE3_ASSOC))) {
            yield new Row($values);
        }
        $result->finalize();
    }

    /**
     * All rows of a query that gives few, from a statement that is kept for the next call.
     *
     * @param array<int|string, scalar|Blob|null> $parameters
     *
     * @return list<Row>
     */
    public function few(string $sql, array $parameters = []): array
    {
        $statement = $this->kept($sql);
        $statement->reset();
        $this->bind($statement, $parameters);
        $result = $statement->execute();
        $rows = [];
        while (false !== $result && false !== ($values = $result->fetchArray(\SQLITE3_ASSOC))) {
            $rows[] = new Row($values);
        }
        $statement->reset();

        return $rows;
    }

    /** @param array<int|string, scalar|Blob|null> $parameters */
    public function one(string $sql, array $parameters = []): ?Row
    {
        return $this->few($sql, $parameters)[0] ?? null;
    }

    /** @param array<int|string, scalar|Blob|null> $parameters */
    public function run(string $sql, array $parameters = []): void
    {
        $statement = $this->kept($sql);
        $statement->reset();
        $this->bind($statement, $parameters);
        $statement->execute();
        $statement->reset();
    }

    /**
     * @param array<string, scalar|Blob|null> $values by column
     *
     * @return int the new row's id
     */
    public function insert(string $table, array $values): int
    {
        $columns = array_keys($values);
        $this->run(
            sprintf(
                'INSERT INTO %s (%s) VALUES (%s)', $table, implode(', ', $columns),
                implode(', ', array_fill(0, count($columns), '?')),
            ),
            array_values($values),
        );

        return $this->connection->lastInsertRowID();
    }

    public function close(): void
    {
        $this->prepared = [];
        $this->connection->close();
    }

    /**
     * Like few(), rows as plain lists in the order of the columns.
     *
     * @param array<int|string, scalar|Blob|null> $parameters
     *
     * @return list<list<mixed>>
     */
    public function fewLists(string $sql, array $parameters = []): array
    {
        $statement = $this->kept($sql);
        $statement->reset();
        $this->bind($statement, $parameters);
        $result = $statement->execute();
        $rows = [];
        while (false !== $result && false !== ($values = $result->fetchArray(\SQLITE3_NUM))) {
            /** @var list<mixed> $values */
            $rows[] = $values;
        }
        $statement->reset();

        return $rows;
    }

    /** For callers that keep a statement for long. */
    public function prepare(string $sql): \SQLite3Stmt
    {
        return $this->prepareFresh($sql);
    }

    /**
     * Rows as plain lists, in the order of the columns: for loops that run a million times.
     *
     * @param array<int|string, scalar|Blob|null> $parameters
     *
     * @return \Generator<int, list<mixed>>
     */
    public function lists(string $sql, array $parameters = []): \Generator
    {
        $statement = $this->prepareFresh($sql);
        $this->bind($statement, $parameters);
        $result = $statement->execute();
        if (false === $result) {
            return;
        }
        while (false !== ($values = $result->fetchArray(\SQLITE3_NUM))) {
            /* @var list<mixed> $values */
            yield $values;
        }
        $result->finalize();
    }

    /**
     * Attaches a database that is only read: statements that would change it are refused, and none of its own code
     * runs.
     */
    public function attachReadOnly(string $path, string $schema): void
    {
        $this->execute('PRAGMA trusted_schema = OFF; PRAGMA cell_size_check = ON');
        $this->run('ATTACH ? AS '.$schema, [$path]);
        $this->onlyRead[$schema] = $schema;
        $this->guard();
    }

    /** What SQLite asks has the name of the database at its third place behind the action. */
    private function guard(): void
    {
        $onlyRead = $this->onlyRead;
        $writes = [
            \SQLite3::INSERT, \SQLite3::UPDATE, \SQLite3::DELETE, \SQLite3::DROP_TABLE, \SQLite3::ALTER_TABLE,
            \SQLite3::CREATE_TABLE, \SQLite3::CREATE_INDEX, \SQLite3::DROP_INDEX,
        ];
        $this->connection->setAuthorizer(
            static fn (int $action, mixed ...$about): int => in_array($action, $writes, true)
                && in_array($about[2] ?? null, $onlyRead, true)
                ? \SQLite3::DENY
                : \SQLite3::OK,
        );
    }

    public function detach(string $schema): void
    {
        $this->prepared = [];
        $this->connection->setAuthorizer(null);
        $this->execute('DETACH '.$schema);
        unset($this->onlyRead[$schema]);
        $this->guard();
    }

    /**
     * Lets SQL call a function; the same arguments must give the same answer.
     *
     * @param callable $function takes and gives scalars and null
     */
    public function define(string $name, callable $function, int $arguments): void
    {
        $this->connection->createFunction($name, $function, $arguments, \SQLITE3_DETERMINISTIC);
    }

    public function changes(): int
    {
        return $this->connection->changes();
    }

    /**
     * The statement of an earlier call with the same words; only so many are kept, whatever a caller puts into them.
     */
    private function kept(string $sql): \SQLite3Stmt
    {
        if (!isset($this->prepared[$sql]) && count($this->prepared) >= self::KEPT) {
            unset($this->prepared[array_key_first($this->prepared)]);
        }

        return $this->prepared[$sql] ??= $this->prepareFresh($sql);
    }

    private function prepareFresh(string $sql): \SQLite3Stmt
    {
        $statement = $this->connection->prepare($sql);
        if (false === $statement) {
            throw new \RuntimeException('SQLite refused to prepare: '.$this->connection->lastErrorMsg());
        }

        return $statement;
    }

    /** @param array<int|string, scalar|Blob|null> $parameters */
    private function bind(\SQLite3Stmt $statement, array $parameters): void
    {
        foreach ($parameters as $name => $value) {
            $place = is_int($name) ? $name + 1 : ':'.$name;
            match (true) {
                $value instanceof Blob => $statement->bindValue($place, $value->bytes, \SQLITE3_BLOB),
                is_int($value), is_bool($value) => $statement->bindValue($place, (int) $value, \SQLITE3_INTEGER),
                is_float($value) => $statement->bindValue($place, $value, \SQLITE3_FLOAT),
                null === $value => $statement->bindValue($place, null, \SQLITE3_NULL),
                default => $statement->bindValue($place, $value, \SQLITE3_TEXT),
            };
        }
    }
}
