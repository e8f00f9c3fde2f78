<?php

declare(strict_types=1);

namespace Geschenk\Core\Sqlite;

/**
 * The columns that a foreign table's own statement names. The statement is prepared as one, in a database without
 * anything in it, and may make its table and nothing else; no expression in it is ever worked out.
 */
final readonly class ForeignTable
{
    /**
     * What a statement that makes a table asks for; it writes into the list of tables alone, and all there is to read
     * is itself.
     */
    private const ALLOWED = [
        \SQLite3::CREATE_TABLE, \SQLite3::INSERT, \SQLite3::UPDATE, \SQLite3::READ, \SQLite3::CREATE_INDEX,
        \SQLite3::REINDEX, \SQLite3::FUNCTION,
    ];
    private const LONGEST = 100_000;
    private const WITHOUT_ROWID = ' WITHOUT ROWID';

    /** @param list<array{name: string, isRowId: bool, type: string}> $columns that are stored, in their order */
    private function __construct(public array $columns, private ?string $statement = null)
    {
    }

    /** @return self|null null when it can't be understood, or keeps its rows in another way than tables do */
    public static function of(string $sql, string $ours): ?self
    {
        if (str_ends_with($ours, self::WITHOUT_ROWID) && self::isSame($sql, $ours)) {
            // Ours to the letter: a table of this sort keeps its rows by its key, and has no other list of them.
            return new self(self::ours($ours)->columns, $ours);
        }
        if (strlen($sql) > self::LONGEST || 1 !== preg_match('/^\s*CREATE\s+TABLE\b/i', $sql) || 1 === preg_match(
            '/\bWITHOUT\s+ROWID\b[^)]*$/i', $sql,
        )) {
            return null;
        }
        $types = Selection::types($ours);
        $memory = new \SQLite3(':memory:');
        $memory->enableExceptions(true);
        $memory->setAuthorizer(static function (int $action, ?string $first): int {
            $isOwnSchema = \SQLite3::CREATE_TABLE === $action
                || !in_array(
                    $action, [\SQLite3::INSERT, \SQLite3::UPDATE], true,
                ) || in_array($first, ['sqlite_master', 'sqlite_schema'], true);

            return $isOwnSchema && in_array($action, self::ALLOWED, true) ? \SQLite3::OK : \SQLite3::DENY;
        });
        $columns = [];
        $keys = 0;
        try {
            $statement = $memory->prepare($sql);
            if (false === $statement) {
                return null;
            }
            $statement->execute();
            $statement->close();
            $memory->setAuthorizer(null);
            $name = $memory->querySingle(
                "SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'sqlite_%'",
            );
            foreach ((new Database($memory))->rows(
                'SELECT CAST(name AS BLOB) AS name, type, pk, hidden FROM pragma_table_xinfo(?) ORDER BY cid',
                [is_string($name) ? $name : ''],
            ) as $row) {
                $hidden = $row->int('hidden');
                // What is worked out when it is read (2) is not stored.
                $keys += $row->int('pk') > 0 ? 1 : 0;
                if (2 !== $hidden) {
                    $columns[] = [
                        'name' => $row->text('name'),
                        'isRowId' => 1 === $row->int('pk') && 'INTEGER' === strtoupper(
                            $row->nullableText('type') ?? '',
                        ),
                        'type' => $types[$row->text('name')] ?? '',
                    ];
                }
            }
        } catch (\Exception) {
            return null;
        }
        if (1 !== $keys) {
            // A key of several columns is no row id.
            $columns = array_map(static fn (array $c): array => ['isRowId' => false] + $c, $columns);
        }

        return [] === $columns ? null : new self($columns);
    }

    /**
     * Whether what is the row id in the format's own table is the row id here. A single wrong letter in a type makes of
     * it a column that nothing stands in.
     *
     * @param string $ours the statement that makes the format's own
     */
    public function hasRowIdOf(string $ours): bool
    {
        return [] === array_diff(self::ours($ours)->rowIds(), $this->rowIds());
    }

    /** @return list<string> columns that are the row's own number */
    public function rowIds(): array
    {
        $names = [];
        foreach ($this->columns as $column) {
            if ($column['isRowId']) {
                $names[] = $column['name'];
            }
        }

        return $names;
    }

    /** The columns that our own statement names, for a table whose statement is damaged. */
    public static function ours(string $ours): self
    {
        $columns = [];
        foreach (Selection::types($ours) as $name => $type) {
            $columns[] = [
                'name' => $name, 'isRowId' => 1 === preg_match('/(?:\(|, )'.$name.' INTEGER PRIMARY KEY/', $ours),
                'type' => $type,
            ];
        }

        return new self($columns);
    }

    /** A statement for a table with these columns and nothing that would have to be worked out or kept up. */
    public function cleanStatement(string $name): string
    {
        return $this->statement ?? sprintf(
            'CREATE TABLE %s (%s)', self::quoted($name),
            implode(
                ', ',
                array_map(
                    static fn (array $c): string => sprintf(
                        '%s %s%s', self::quoted($c['name']), $c['type'], $c['isRowId'] ? ' PRIMARY KEY' : '',
                    ),
                    $this->columns,
                ),
            ),
        );
    }

    public function hasRowIds(): bool
    {
        return null === $this->statement;
    }

    /** Whether two statements say the same, quotes and spaces aside. */
    public static function isSame(string $one, string $other): bool
    {
        $plain = static fn (string $sql): string => strtolower((string) preg_replace('/[\s"`\[\];]+/', '', $sql));

        return $plain($one) === $plain($other);
    }

    /** @return list<string> */
    public function names(): array
    {
        return array_column($this->columns, 'name');
    }

    public static function quoted(string $name): string
    {
        return '"'.str_replace('"', '""', $name).'"';
    }
}
