<?php

declare(strict_types=1);

namespace Geschenk\Core\Sqlite;

/**
 * One INSERT that runs a million times: prepared once, its values bound by reference once, so that a row costs an
 * assignment a column and one call.
 */
final class Insert
{
    private readonly \SQLite3Stmt $statement;
    /** @var array<int, scalar|null> the slots that the statement reads */
    private array $slots = [];

    /**
     * @param array<string, int> $columns SQLITE3_INTEGER, SQLITE3_FLOAT, SQLITE3_TEXT or SQLITE3_BLOB by name
     */
    public function __construct(Database $database, string $table, array $columns)
    {
        $this->statement = $database->prepare(
            sprintf(
                'INSERT INTO %s (%s) VALUES (%s)', $table, implode(', ', array_keys($columns)),
                implode(', ', array_fill(0, count($columns), '?')),
            ),
        );
        $place = 0;
        foreach ($columns as $type) {
            $this->slots[$place] = null;
            $this->statement->bindParam($place + 1, $this->slots[$place], $type);
            ++$place;
        }
    }

    /**
     * For all columns of a table as its statement declares them.
     *
     * @param string $createTable the statement that makes the table, one line
     */
    public static function into(Database $database, string $table, string $createTable): self
    {
        $types = [
            'TEXT' => \SQLITE3_TEXT, 'INTEGER' => \SQLITE3_INTEGER, 'REAL' => \SQLITE3_FLOAT, 'BLOB' => \SQLITE3_BLOB,
        ];

        return new self(
            $database, $table,
            array_map(static fn (string $type): int => $types[$type], Selection::types($createTable)),
        );
    }

    /** @param list<scalar|null> $values in the order of the columns */
    public function row(array $values): void
    {
        foreach ($values as $place => $value) {
            $this->slots[$place] = $value;
        }
        $this->statement->execute();
    }
}
