<?php

declare(strict_types=1);

namespace Geschenk\Core\Sqlite;

/** A thin layer over one SQLite connection: typed parameters in, typed rows out, every failure an exception. */
final class Database
{
    /** @var array<string, \SQLite3Stmt> */
    private array $prepared = [];

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
        $database->execute('PRAGMA journal_mode = OFF; PRAGMA synchronous = OFF; PRAGMA locking_mode = EXCLUSIVE; PRAGMA temp_store = FILE');

        return $database;
    }

    public static function openReadOnly(string $path): self
    {
        return new self(new \SQLite3($path, \SQLITE3_OPEN_READONLY));
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
        $statement = $this->prepared[$sql] ??= $this->prepareFresh($sql);
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
        $statement = $this->prepared[$sql] ??= $this->prepareFresh($sql);
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
            sprintf('INSERT INTO %s (%s) VALUES (%s)', $table, implode(', ', $columns), implode(', ', array_fill(0, count($columns), '?'))),
            array_values($values),
        );

        return $this->connection->lastInsertRowID();
    }

    public function close(): void
    {
        $this->prepared = [];
        $this->connection->close();
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
