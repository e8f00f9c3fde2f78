<?php

declare(strict_types=1);

namespace Geschenk\Core\Sqlite;

use Geschenk\Core\Files\Durable\Disk;

/**
 * Saves what can be read from a damaged database, page by page: a page or a cell that is broken costs its own rows and
 * no others. No page is believed because another leads to it: its rows have to stand in order between those beside it,
 * and what an index of the table knows of them has to be so. Pages that changed places are found where they are by what
 * they hold. The rows go into a clean database with the same tables, and the old indexes tell which rows are missing.
 * Format: https://www.sqlite.org/fileformat2.html
 *
 * A saved row is its row id and its values.
 *
 * @phpstan-type Values list<int|float|string|Blob|null>
 * @phpstan-type SavedRow array{int, Values}
 * @phpstan-type Columns list<array{name: string, isRowId: bool, type: string}>
 */
final class Salvage
{
    private const TABLE_INTERIOR = 0x05;
    private const TABLE_LEAF = 0x0D;
    private const INDEX_INTERIOR = 0x02;
    private const INDEX_LEAF = 0x0A;
    private const MAX_ROW_BYTES = 512_000_000;
    private const DEPTH = 40;

    /** @var resource */
    private mixed $file;
    private int $pages;
    private int $usable;
    /** A byte a page: "1" once it was taken for something. */
    private string $seen;
    /** @var list<int> pages in the order in which they were taken, so that they can be given back */
    private array $taken = [];
    /** @var array<string, int> */
    private array $unreadable = [];
    private bool $freelistIsWhole = true;
    private Database $clean;
    /** @var array<string, Columns> of the tables that are wanted */
    private array $wanted = [];
    /**
     * @var array<string, array{
     *     table: string, column: int, isHurt: bool,
     * }> indexes that are there, and their first column's place in the table
     */
    private array $indexes = [];
    /** @var array<string, list<array{int, int}>> row ids between which rows are missing, first and last, by table */
    private array $holes = [];

    private function __construct(private readonly string $path, private readonly int $pageSize, int $reserved)
    {
        $this->file = Disk::open($path, 'r');
        clearstatcache(true, $path);
        $this->pages = intdiv((int) filesize($path), $pageSize);
        $this->usable = $pageSize - $reserved;
        $this->seen = str_repeat('0', $this->pages + 1);
    }

    public function __destruct()
    {
        fclose($this->file);
    }

    /**
     * @param string                $damaged a copy that nobody else has open, its write-ahead log brought in
     * @param string                $clean   the database to make
     * @param array<string, string> $tables  statements that make the tables, one line each, by name
     * @param string                $indexes statements that make the indexes, a line each
     *
     * @throws \UnexpectedValueException when not even the list of tables can be read
     */
    public static function into(string $damaged, string $clean, array $tables, string $indexes, LogReading $log): Damage
    {
        return self::of($damaged)->run($clean, $tables, $indexes, $log);
    }

    /**
     * The list of tables and indexes as it stands in the file; not a word of it is run.
     *
     * @return list<array{type: string, name: string, table: string, root: int, sql: string}>
     *
     * @throws \UnexpectedValueException when it can't be read whole
     */
    public static function schema(string $path): array
    {
        $salvage = self::of($path);
        $schema = $salvage->readSchema();
        if ([] !== $salvage->unreadable || [] !== $salvage->holes) {
            throw new \UnexpectedValueException('the list of its tables is damaged');
        }

        return $schema;
    }

    /**
     * Whether a small table without an index holds rows of its own shape: nothing else would notice that its pages
     * changed places with those of another.
     *
     * @param array<string, array{root: int, columns: Columns}> $tables by name
     *
     * @return string|null the table that does not
     */
    public static function misshapen(string $path, array $tables): ?string
    {
        $salvage = self::of($path);
        foreach ($tables as $name => ['root' => $root, 'columns' => $columns]) {
            $salvage->wanted[$name] = $columns;
            foreach ($salvage->leaves($root, $name, \PHP_INT_MIN, \PHP_INT_MAX) as $_) {
            }
            if (isset($salvage->unreadable[$name])) {
                return $name;
            }
        }

        return null;
    }

    private static function of(string $path): self
    {
        $header = DatabaseHeader::of($path) ?? throw new \UnexpectedValueException('its first page is unreadable');
        if ($header->pageSize < 512 || 0 !== ($header->pageSize & ($header->pageSize - 1)) || $header->reserved > 255
            || $header->pageSize - $header->reserved < 480) {
            throw new \UnexpectedValueException('its first page is damaged');
        }

        return new self($path, $header->pageSize, $header->reserved);
    }

    /** @param array<string, string> $tables */
    private function run(string $clean, array $tables, string $indexes, LogReading $log): Damage
    {
        $schema = $this->readSchema();
        $isListDamaged = isset($this->unreadable['sqlite_schema']) || isset($this->holes['sqlite_schema']);
        unset($this->unreadable['sqlite_schema'], $this->holes['sqlite_schema']);
        $this->clean = Database::createAnew($clean);
        $this->clean->execute(
            'BEGIN; CREATE TEMP TABLE entry (name TEXT, row INTEGER, value, PRIMARY KEY (name, row)) WITHOUT ROWID',
        );
        $this->freelist();
        $this->makeTables($schema, $tables);
        if ($isListDamaged && ([] !== $schema || $this->hasLeaves())) {
            $this->makeUnnamedTables($tables);
        }
        if ([] === $this->wanted) {
            throw new \UnexpectedValueException('the list of its tables is unreadable');
        }
        preg_match_all('/CREATE INDEX (\w+) ON (\w+) \((\w+)/', $indexes, $known, \PREG_SET_ORDER);
        foreach ($known as [, $index, $table, $column]) {
            $this->readIndex($schema, $index, $table, $column);
        }
        foreach ($schema as $entry) {
            if ('table' === $entry['type'] && isset($this->wanted[$entry['name']])) {
                foreach ($this->leaves($entry['root'], $entry['name'], \PHP_INT_MIN, \PHP_INT_MAX) as $rows) {
                    $this->save($entry['name'], $rows);
                }
            }
        }
        foreach ($schema as $entry) {
            // Not wanted, but their pages must not be taken for somebody else's.
            if ('table' === $entry['type'] && !isset($this->wanted[$entry['name']])) {
                foreach ($this->leaves($entry['root'], $entry['name'], \PHP_INT_MIN, \PHP_INT_MAX) as $_) {
                }
            } elseif ('index' === $entry['type'] && !isset($this->indexes[$entry['name']])) {
                foreach ($this->indexPages($entry['root'], $entry['name']) as $_) {
                }
            }
        }
        foreach ($this->indexes as $index => ['table' => $table, 'isHurt' => $isHurt]) {
            // An index that is right knows more: the tree is cut off somewhere, or another page stands in its place.
            if (!$isHurt && $this->trustIn($index)['isOfItsTable'] && [] !== $this->lostBy($index)) {
                $this->holes[$table][] = [\PHP_INT_MIN, \PHP_INT_MAX];
                $this->unreadable[$table] ??= 0;
            }
        }
        $this->saveOrphans();
        foreach (array_keys($this->indexes) as $index) {
            ['isOfItsTable' => $isOfItsTable, 'namesAll' => $namesAll] = $this->trustIn($index);
            if (!$isOfItsTable) {
                unset($this->indexes[$index]);
            } elseif (!$namesAll) {
                // One that does not name what is there does not know all that is lost either.
                $this->indexes[$index]['isHurt'] = true;
            }
        }
        $damage = $this->damage($log);
        foreach (explode("\n", $indexes) as $statement) {
            if (1 === preg_match('/^\s*CREATE INDEX \w+ ON (\w+) \((.+)\)/', $statement, $on) && [] === array_diff(
                explode(', ', $on[2]), array_column($this->wanted[$on[1]] ?? [], 'name'),
            )) {
                $this->clean->execute($statement);
            }
        }
        $this->clean->execute('DROP TABLE temp.entry; COMMIT');
        $this->clean->close();

        return $damage;
    }

    /** @return list<array{type: string, name: string, table: string, root: int, sql: string}> */
    private function readSchema(): array
    {
        $schema = [];
        foreach ($this->leaves(1, 'sqlite_schema', \PHP_INT_MIN, \PHP_INT_MAX) as $rows) {
            foreach ($rows as [, $row]) {
                [$type, $name, $table, $root, $sql] = [...$row, null, null, null, null, null];
                if (is_string($type) && is_string($name) && is_string($table)) {
                    $schema[] = [
                        'type' => $type, 'name' => $name, 'table' => $table,
                        'root' => is_int($root) && $root > 1 ? $root : 0, 'sql' => is_string($sql) ? $sql : '',
                    ];
                }
            }
        }

        return array_values(
            array_filter(
                $schema,
                static fn (array $entry): bool => 0 !== $entry['root'] || !in_array(
                    $entry['type'], ['table', 'index'], true,
                ),
            ),
        );
    }

    /**
     * @param list<array{type: string, name: string, table: string, root: int, sql: string}> $schema
     * @param array<string, string>                                                          $tables
     */
    private function makeTables(array $schema, array $tables): void
    {
        foreach ($schema as $entry) {
            $ours = 'table' === $entry['type'] ? $tables[$entry['name']] ?? null : null;
            if (null !== $ours && !isset($this->wanted[$entry['name']])) {
                $table = ForeignTable::of($entry['sql'], $ours);
                if (null === $table || !$table->hasRowIdOf($ours) || [] !== array_diff(
                    ForeignTable::ours($ours)->names(), $table->names(),
                )) {
                    // Its statement is damaged too.
                    $table = ForeignTable::ours($ours);
                }
                $this->wanted[$entry['name']] = $table->columns;
                $this->clean->execute($table->cleanStatement($entry['name']));
            }
        }
    }

    /**
     * Tables that the damaged list does not name any more: where their pages begin nobody knows, but their rows may
     * still be found by their shape.
     *
     * @param array<string, string> $tables
     */
    private function makeUnnamedTables(array $tables): void
    {
        foreach (array_diff_key($tables, $this->wanted) as $name => $ours) {
            $table = ForeignTable::ours($ours);
            $this->wanted[$name] = $table->columns;
            $this->clean->execute($table->cleanStatement($name));
            $this->unreadable[$name] = 1;
            $this->holes[$name][] = [\PHP_INT_MIN, \PHP_INT_MAX];
        }
    }

    private function hasLeaves(): bool
    {
        for ($number = 2; $number <= $this->pages; ++$number) {
            if ('0' === $this->seen[$number] && self::TABLE_LEAF === ord($this->page($number)[0] ?? "\0")) {
                return true;
            }
        }

        return false;
    }

    /** @param list<array{type: string, name: string, table: string, root: int, sql: string}> $schema */
    private function readIndex(array $schema, string $index, string $table, string $column): void
    {
        foreach ($schema as $entry) {
            $place = array_search($column, array_column($this->wanted[$table] ?? [], 'name'), true);
            if ('index' !== $entry['type'] || $index !== $entry['name'] || !is_int($place)) {
                continue;
            }
            $this->indexes[$index] = ['table' => $table, 'column' => $place, 'isHurt' => false];
            $isTwice = false;
            foreach ($this->indexPages($entry['root'], $index) as $entries) {
                foreach ($entries as $values) {
                    $value = $values[0] ?? null;
                    $rowId = $values[count($values) - 1] ?? null;
                    if (is_int($rowId) && (is_int($value) || is_string($value))) {
                        $this->clean->run(
                            'INSERT OR IGNORE INTO temp.entry VALUES (?, ?, ?)', [$index, $rowId, $value],
                        );
                        // A row that is named twice was another one once.
                        $isTwice = $isTwice || 0 === $this->clean->changes();
                    }
                }
            }
            $this->indexes[$index]['isHurt'] = $isTwice || isset($this->unreadable[$index]);
        }
    }

    /** Pages that hold nothing any more may still hold old rows: what was deleted stays deleted. */
    private function freelist(): void
    {
        $first = $this->page(1);
        $trunk = self::number($first ?? '', 32);
        for ($turn = 0; $trunk > 0 && $turn <= $this->pages; ++$turn) {
            $page = $this->take($trunk);
            if (null === $page) {
                $this->freelistIsWhole = false;

                return;
            }
            $count = min(self::number($page, 4), intdiv($this->usable, 4) - 2);
            for ($i = 0; $i < $count; ++$i) {
                $this->take(self::number($page, 8 + 4 * $i));
            }
            $trunk = self::number($page, 0);
        }
    }

    /** @param list<SavedRow> $rows */
    private function save(string $name, array $rows): void
    {
        $columns = $this->wanted[$name];
        foreach ($rows as [$rowId, $values]) {
            $row = ['rowid' => $rowId];
            foreach ($columns as $place => $column) {
                if (!$column['isRowId']) {
                    $row[ForeignTable::quoted($column['name'])] = $values[$place] ?? null;
                }
            }
            $this->clean->run(
                sprintf(
                    'INSERT OR IGNORE INTO %s (%s) VALUES (%s)', ForeignTable::quoted($name),
                    implode(', ', array_keys($row)), implode(', ', array_fill(0, count($row), '?')),
                ),
                array_values($row),
            );
        }
    }

    /**
     * The rows of a table, leaf by leaf.
     *
     * @param int $first lowest row id that may stand below this page, $last the highest
     *
     * @return \Generator<int, list<SavedRow>>
     */
    private function leaves(int $number, string $owner, int $first, int $last, int $depth = 0): \Generator
    {
        $since = count($this->taken);
        $page = $depth > self::DEPTH ? null : $this->take($number);
        $at = 1 === $number ? DatabaseHeader::BYTES : 0;
        $type = null === $page ? -1 : ord($page[$at]);
        if (null !== $page && self::TABLE_LEAF === $type) {
            $rows = $this->leaf($number, $owner, $first, $last);
            if (null !== $rows) {
                yield $rows;

                return;
            }
        } elseif (null !== $page && self::TABLE_INTERIOR === $type) {
            $children = $this->children($page, $at, $first, $last);
            if (null !== $children) {
                foreach ($children as [$child, $from, $to]) {
                    yield from $this->leaves($child, $owner, $from, $to, $depth + 1);
                }

                return;
            }
        }
        $this->giveBack($since);
        $this->unreadable[$owner] = ($this->unreadable[$owner] ?? 0) + 1;
        $this->holes[$owner][] = [$first, $last];
    }

    /**
     * @return list<array{
     *     int, int, int,
     * }>|null page, lowest and highest row id of each child; null when they do not stand in order
     */
    private function children(string $page, int $at, int $first, int $last): ?array
    {
        $children = [];
        $from = $first;
        foreach ($this->cells($page, $at, 12) as $offset) {
            try {
                [$key] = self::varint($page, $offset + 4);
            } catch (\UnexpectedValueException) {
                return null;
            }
            if ($key < $from || $key > $last) {
                return null;
            }
            $children[] = [self::number($page, $offset), $from, $key];
            if (\PHP_INT_MAX === $key) {
                return null;
            }
            $from = $key + 1;
        }
        $children[] = [self::number($page, $at + 8), $from, $last];

        return $children;
    }

    /**
     * The rows of a leaf that stand in order and between their neighbours; holes are noted where some do not.
     *
     * @return list<SavedRow>|null null when it is no leaf of this table
     */
    private function leaf(int $number, string $owner, int $first, int $last): ?array
    {
        ['rows' => $rows, 'cells' => $cells, 'broken' => $broken] = $this->leafRows($number);
        $inOrder = [];
        $from = $first;
        $holes = [];
        $hasGap = $broken > 0 && [] === $rows;
        foreach ($rows as $row) {
            if ($row[0] < $from || $row[0] > $last || !$this->hasShape($owner, $row[1])) {
                $hasGap = true;
                continue;
            }
            if ($hasGap || $row[2]) {
                $holes[] = [$from, $row[0]];
                $hasGap = false;
            }
            $inOrder[] = [$row[0], $row[1]];
            if (\PHP_INT_MAX === $row[0]) {
                break;
            }
            $from = $row[0] + 1;
        }
        if ($broken > 0 || $hasGap) {
            $holes[] = [$from, $last];
        }
        if (count($inOrder) * 2 < $cells || ($cells > 0 && $this->belongsElsewhere($owner, $inOrder))) {
            return null;
        }
        if ([] !== $holes) {
            // Where exactly a broken cell stood nobody knows: all that the page may hold.
            $this->unreadable[$owner] ??= 0;
            $this->holes[$owner][] = [$first, $last];
        }

        return $inOrder;
    }

    /**
     * Whether rows are another table's: no index of this one knows most of them, and one of another does, or they have
     * the shape of another and not of this.
     *
     * @param list<SavedRow> $rows
     */
    private function belongsElsewhere(string $owner, array $rows): bool
    {
        if (!isset($this->wanted[$owner]) || [] === $rows) {
            return false;
        }
        $isNamed = false;
        $isAnothers = false;
        foreach ($this->indexes as $index => $about) {
            if ($about['table'] === $owner) {
                $isNamed = $isNamed || $this->known($index, $rows) * 2 > count($rows);
            } elseif ($this->known($index, $rows) === count($rows) && $this->areShaped($about['table'], $rows)) {
                $isAnothers = true;
            }
        }
        $whole = $fitting = 0;
        foreach ($rows as [, $values]) {
            $whole += $this->hasWholeShape($owner, $values) ? 1 : 0;
            $fitting += $this->fits($owner, $values) ? 1 : 0;
        }
        if ($whole * 2 > count($rows)) {
            return !$isNamed && $isAnothers;
        }
        // Small numbers are the same in many tables: what an index names is still another's where its values are no
        // column's.
        if ($isNamed && $fitting * 2 > count($rows)) {
            return false;
        }
        if ($isAnothers) {
            return true;
        }
        foreach (array_keys($this->wanted) as $table) {
            if ($table !== $owner && $this->areShaped($table, $rows)) {
                return true;
            }
        }

        return false;
    }

    /**
     * How many of these rows an index names, with the value that they have.
     *
     * @param list<SavedRow> $rows
     */
    private function known(string $index, array $rows): int
    {
        if ([] === $rows) {
            return 0;
        }
        $values = [];
        foreach ($this->clean->fewLists(
            'SELECT row, value FROM temp.entry WHERE name = ? AND row BETWEEN ? AND ?',
            [$index, $rows[0][0], $rows[count($rows) - 1][0]],
        ) as [$row, $value]) {
            $values[is_int($row) ? $row : 0] = $value;
        }
        ['table' => $table, 'column' => $column] = $this->indexes[$index];
        $isRowId = $this->wanted[$table][$column]['isRowId'];

        return count(
            array_filter(
                $rows,
                static fn (array $row): bool => isset($values[$row[0]])
                    && $values[$row[0]] === ($isRowId ? $row[0] : $row[1][$column] ?? null),
            ),
        );
    }

    /** @param Values $values */
    private function hasShape(string $owner, array $values): bool
    {
        $columns = $this->wanted[$owner] ?? null;
        if (null === $columns) {
            return true;
        }
        if (count($values) > count($columns)) {
            return false;
        }
        $has = $fits = 0;
        foreach ($values as $place => $value) {
            if (null !== $value && $columns[$place]['isRowId']) {
                // Such a column is the row id itself and never stands in the record: file format, 2.3.
                return false;
            }
            if (null === $value || '' === $columns[$place]['type']) {
                continue;
            }
            ++$has;
            $fits += match ($columns[$place]['type']) {
                'INTEGER' => is_int($value),
                'TEXT' => is_string($value),
                'REAL' => is_float($value) || is_int($value),
                default => $value instanceof Blob || is_string($value),
            } ? 1 : 0;
        }

        // An odd value costs itself; a row of which more is odd than not is one of another table.
        return $fits * 2 >= $has;
    }

    /**
     * Leaf pages that no tree leads to any more, since the page above them is broken or they changed places. Each goes
     * to a table that lost rows there, whose index knows its rows, or, without an index, whose shape and place they
     * have.
     */
    private function saveOrphans(): void
    {
        $hurt = array_keys(array_intersect_key($this->wanted, $this->holes));
        for ($number = 2; [] !== $hurt && $number <= $this->pages; ++$number) {
            if ('0' !== $this->seen[$number] || self::TABLE_LEAF !== ord($this->page($number)[0] ?? "\0")) {
                continue;
            }
            $since = count($this->taken);
            $this->take($number);
            $rows = array_map(static fn (array $row): array => [$row[0], $row[1]], $this->leafRows($number)['rows']);
            usort($rows, static fn (array $a, array $b): int => $a[0] <=> $b[0]);
            $table = [] === $rows ? null : $this->homeOf($hurt, $rows);
            if (null === $table) {
                $this->giveBack($since);
            } else {
                $this->save($table, $rows);
            }
        }
    }

    /**
     * @param list<string>        $tables
     * @param non-empty-list<SavedRow> $rows
     */
    private function homeOf(array $tables, array $rows): ?string
    {
        foreach ($tables as $table) {
            foreach ($this->indexes as $index => $about) {
                if ($about['table'] === $table && $this->known($index, $rows) === count($rows) && [] === array_filter(
                    $rows, fn (array $row): bool => !$this->hasShape($table, $row[1]),
                )) {
                    return $table;
                }
            }
        }
        $homes = [];
        foreach ($this->freelistIsWhole ? $tables : [] as $table) {
            $isIndexed = [] !== array_filter(
                $this->indexes, static fn (array $about): bool => $about['table'] === $table && !$about['isHurt'],
            );
            $fits = static fn (array $hole): bool => $rows[0][0] >= $hole[0] && $rows[count($rows) - 1][0] <= $hole[1];
            if (!$isIndexed && [] !== array_filter($this->holes[$table], $fits) && $this->areShaped($table, $rows)) {
                $homes[] = $table;
            }
        }

        // Where two tables look the same, neither gets what may be the other's.
        return 1 === count($homes) ? $homes[0] : null;
    }

    /**
     * Whether all rows have exactly the columns of a table, each of its type.
     *
     * @param list<SavedRow> $rows
     */
    private function areShaped(string $table, array $rows): bool
    {
        return [] === array_filter($rows, fn (array $row): bool => !$this->hasWholeShape($table, $row[1]));
    }

    /** @param Values $values */
    private function hasWholeShape(string $table, array $values): bool
    {
        return count($values) === count($this->wanted[$table]) && $this->fits($table, $values);
    }

    /**
     * Whether each value is of its column's type; rows from before a column was added are short.
     *
     * @param Values $values
     */
    private function fits(string $table, array $values): bool
    {
        foreach ($values as $place => $value) {
            $column = $this->wanted[$table][$place] ?? null;
            $fits = null !== $column && (null === $value || match ($column['type']) {
                'INTEGER' => is_int($value) && !$column['isRowId'],
                'TEXT' => is_string($value),
                'REAL' => is_float($value) || is_int($value),
                default => !$column['isRowId'],
            });
            if (!$fits) {
                return false;
            }
        }

        return true;
    }

    private function damage(LogReading $log): Damage
    {
        $lost = [];
        foreach (array_keys($this->indexes) as $index) {
            $lost[$index] = $this->lostBy($index);
        }
        $lost = array_filter($lost);
        $uncounted = [];
        foreach (array_keys(array_intersect_key($this->wanted, $this->holes)) as $table) {
            $tells = array_filter(
                $this->indexes, static fn (array $about): bool => $about['table'] === $table && !$about['isHurt'],
            );
            if ([] === $tells) {
                $uncounted[] = $table;
            }
        }

        return new Damage($this->unreadable, $lost, $log, $uncounted);
    }

    /**
     * Whether an index names what its table holds, each row with its value. One that names less than half of it got its
     * pages from another table.
     *
     * @return array{isOfItsTable: bool, namesAll: bool}
     */
    private function trustIn(string $index): array
    {
        ['table' => $table, 'column' => $column] = $this->indexes[$index];
        [$there, $value] = [ForeignTable::quoted($table), ForeignTable::quoted($this->wanted[$table][$column]['name'])];
        $sql = <<<SQL
            SELECT COUNT(*) AS rows, COALESCE(SUM(NOT EXISTS (
                SELECT 1 FROM temp.entry e WHERE e.name = ? AND e.row = t.rowid AND e.value IS t.$value
            )), 0) AS unnamed
            FROM main.$there t WHERE typeof(t.$value) IN ('integer', 'text')
            SQL;
        $row = $this->clean->one($sql, [$index]) ?? new Row([]);

        return [
            'isOfItsTable' => $row->int('unnamed') * 2 <= $row->int('rows'), 'namesAll' => 0 === $row->int('unnamed'),
        ];
    }

    /**
     * Rows that an index names and that are not there. An entry that is wrong leaves a row without one: such pairs are
     * no loss. Where the index itself is hurt, it is believed only of those stretches in which rows are missing.
     *
     * @return array<int|string, int> by the index's first column
     */
    private function lostBy(string $index): array
    {
        ['table' => $table, 'column' => $column, 'isHurt' => $isHurt] = $this->indexes[$index];
        [$there, $value] = [ForeignTable::quoted($table), ForeignTable::quoted($this->wanted[$table][$column]['name'])];
        $lost = [];
        foreach ($isHurt ? self::merged($this->holes[$table] ?? []) : [
            [\PHP_INT_MIN, \PHP_INT_MAX],
        ] as [$first, $last]) {
            $missing = <<<SQL
                SELECT e.value, COUNT(*) FROM temp.entry e
                WHERE e.name = ? AND e.row BETWEEN ? AND ? AND NOT EXISTS (SELECT 1 FROM main.$there t
                    WHERE t.rowid = e.row)
                GROUP BY e.value
                SQL;
            foreach ($this->clean->lists($missing, [$index, $first, $last]) as [$of, $count]) {
                if ((is_int($of) || is_string($of)) && is_int($count)) {
                    $lost[$of] = ($lost[$of] ?? 0) + $count;
                }
            }
        }
        $strays = <<<SQL
            SELECT t.$value, COUNT(*) FROM main.$there t
            WHERE NOT EXISTS (SELECT 1 FROM temp.entry e WHERE e.name = ? AND e.row = t.rowid)
            GROUP BY t.$value
            SQL;
        foreach ([] === $lost ? [] : $this->clean->lists($strays, [$index]) as [$of, $count]) {
            if ((is_int($of) || is_string($of)) && is_int($count) && isset($lost[$of])) {
                $lost[$of] -= $count;
            }
        }

        return array_filter($lost, static fn (int $count): bool => $count > 0);
    }

    /**
     * @param list<array{int, int}> $holes
     *
     * @return list<array{int, int}> none of which overlaps another
     */
    private static function merged(array $holes): array
    {
        usort($holes, static fn (array $a, array $b): int => $a[0] <=> $b[0]);
        $merged = [];
        $current = null;
        foreach ($holes as [$first, $last]) {
            if (null !== $current && $first <= $current[1]) {
                $current = [$current[0], max($current[1], $last)];
                continue;
            }
            if (null !== $current) {
                $merged[] = $current;
            }
            $current = [$first, $last];
        }

        return null === $current ? [] : [...$merged, $current];
    }

    /**
     * @return array{
     *     rows: list<array{int, Values, bool}>, cells: int, broken: int,
     * } rows, each with whether a broken one stands before it
     */
    private function leafRows(int $number): array
    {
        $page = $this->page($number) ?? '';
        $at = 1 === $number ? DatabaseHeader::BYTES : 0;
        $rows = [];
        $isBroken = false;
        $broken = $bytes = 0;
        $offsets = $this->cells($page, $at, 8);
        foreach ($offsets as $offset) {
            $since = count($this->taken);
            try {
                [$size, $after] = self::varint($page, $offset);
                [$rowId, $after] = self::varint($page, $after);
                $rows[] = [$rowId, self::record($this->payload($page, $after, $size, $this->usable - 35)), $isBroken];
                $isBroken = false;
                $local = $this->local($size, $this->usable - 35);
                $bytes += max(4, $after - $offset + $local + ($local < $size ? 4 : 0));
            } catch (\UnexpectedValueException) {
                $this->giveBack($since);
                $isBroken = true;
                ++$broken;
            }
        }
        $promised = self::short($page, $at + 3);
        if (0 === $broken && !$this->isAccounted($page, $at, $bytes)) {
            // Its number of cells is too small: there are more than it tells.
            $broken = 1;
        }

        return [
            'rows' => $rows, 'cells' => max(count($offsets), min($promised, $this->usable >> 2)),
            'broken' => $broken + max(0, $promised - count($offsets)),
        ];
    }

    /**
     * The entries of an index, page by page; a page whose entries do not stand in order is none of it.
     *
     * @return \Generator<int, list<Values>>
     */
    private function indexPages(int $number, string $owner, int $depth = 0): \Generator
    {
        $since = count($this->taken);
        $page = $depth > self::DEPTH ? null : $this->take($number);
        $type = null === $page ? -1 : ord($page[0]);
        if (null === $page || (self::INDEX_LEAF !== $type && self::INDEX_INTERIOR !== $type)) {
            $this->giveBack($since);
            $this->unreadable[$owner] = ($this->unreadable[$owner] ?? 0) + 1;

            return;
        }
        $isLeaf = self::INDEX_LEAF === $type;
        $entries = [];
        $isOrdered = true;
        foreach ($this->cells($page, 0, $isLeaf ? 8 : 12) as $offset) {
            try {
                [$size, $after] = self::varint($page, $offset + ($isLeaf ? 0 : 4));
                $values = self::record(
                    $this->payload($page, $after, $size, intdiv(($this->usable - 12) * 64, 255) - 23),
                );
                $isOrdered = $isOrdered && ([] === $entries || self::order($entries[count($entries) - 1], $values) < 0);
                $entries[] = $values;
            } catch (\UnexpectedValueException) {
                $this->unreadable[$owner] ??= 0;
            }
        }
        if (!$isOrdered) {
            $this->unreadable[$owner] = ($this->unreadable[$owner] ?? 0) + 1;
        } else {
            yield $entries;
        }
        if (!$isLeaf) {
            foreach ($this->cells($page, 0, 12) as $offset) {
                yield from $this->indexPages(self::number($page, $offset), $owner, $depth + 1);
            }
            yield from $this->indexPages(self::number($page, 8), $owner, $depth + 1);
        }
    }

    /**
     * As an index with the binary collation has it: nothing before numbers before texts before bytes.
     *
     * @param Values $one
     * @param Values $other
     */
    private static function order(array $one, array $other): int
    {
        $rank = static fn (int|float|string|Blob|null $value): int => match (true) {
            null === $value => 0, is_int($value), is_float($value) => 1, is_string($value) => 2, default => 3,
        };
        foreach ($one as $place => $value) {
            $there = $other[$place] ?? null;
            $order = $rank($value) <=> $rank($there);
            if (0 === $order) {
                $order = match (true) {
                    is_string($value) && is_string($there) => strcmp($value, $there),
                    $value instanceof Blob && $there instanceof Blob => strcmp($value->bytes, $there->bytes),
                    default => $value <=> $there,
                };
            }
            if (0 !== $order) {
                return $order;
            }
        }

        return count($one) <=> count($other);
    }

    /** @return list<int> where the cells of a page begin */
    private function cells(string $page, int $at, int $headerBytes): array
    {
        $count = self::short($page, $at + 3);
        $cells = [];
        for ($i = 0; $i < $count && $at + $headerBytes + 2 * $i + 2 <= $this->usable; ++$i) {
            $offset = self::short($page, $at + $headerBytes + 2 * $i);
            if ($offset >= $at + $headerBytes && $offset < $this->usable) {
                $cells[] = $offset;
            }
        }

        return $cells;
    }

    /** Forgets that pages were taken, since what took them turned out to be something else. */
    private function giveBack(int $since): void
    {
        while (count($this->taken) > $since) {
            $this->seen[(int) array_pop($this->taken)] = '0';
        }
    }

    /**
     * Whether what a page's cells take, with what is told to be free between them, is all there is: file format, 1.6.
     */
    private function isAccounted(string $page, int $at, int $bytes): bool
    {
        $begin = self::short($page, $at + 5) ?: 65_536;
        $free = ord($page[$at + 7] ?? "\0");
        for ($block = self::short($page, $at + 1), $last = 0; $block > $last
            && $block + 4 <= $this->usable; $block = self::short($page, $block)) {
            $free += self::short($page, $block + 2);
            $last = $block;
        }

        return $bytes + $free >= $this->usable - $begin;
    }

    /** Bytes of a record that stand in its own page. */
    private function local(int $size, int $most): int
    {
        if ($size <= $most) {
            return $size;
        }
        $least = intdiv(($this->usable - 12) * 32, 255) - 23;
        $local = $least + ($size - $least) % ($this->usable - 4);

        return $local <= $most ? $local : $least;
    }

    /** @throws \UnexpectedValueException when a part of it can't be found */
    private function payload(string $page, int $at, int $size, int $most): string
    {
        if ($size < 0 || $size > self::MAX_ROW_BYTES) {
            throw new \UnexpectedValueException('A row is too long to be true.');
        }
        $local = $this->local($size, $most);
        if ($at + $local > $this->usable) {
            throw new \UnexpectedValueException('A row leaves its page.');
        }
        $bytes = substr($page, $at, $local);
        $next = $local < $size ? self::number($page, $at + $local) : 0;
        while (strlen($bytes) < $size) {
            $overflow = $this->take($next) ?? throw new \UnexpectedValueException(
                'A row goes on in a page that is not there.',
            );
            $bytes .= substr($overflow, 4, min($this->usable - 4, $size - strlen($bytes)));
            $next = self::number($overflow, 0);
        }

        return $bytes;
    }

    /**
     * @return list<int|float|string|Blob|null>
     *
     * @throws \UnexpectedValueException
     */
    private static function record(string $payload): array
    {
        [$headerSize, $at] = self::varint($payload, 0);
        $body = $headerSize;
        $values = [];
        while ($at < $headerSize) {
            [$serial, $at] = self::varint($payload, $at);
            $length = match (true) {
                $serial < 0, 10 === $serial, 11 === $serial => throw new \UnexpectedValueException(
                    'A row holds a value of no known type.',
                ),
                $serial >= 12 => intdiv($serial - 12, 2),
                default => [0, 1, 2, 3, 4, 6, 8, 8, 0, 0][$serial],
            };
            if ($body + $length > strlen($payload)) {
                throw new \UnexpectedValueException('A value leaves its row.');
            }
            $bytes = substr($payload, $body, $length);
            $values[] = match (true) {
                0 === $serial => null,
                8 === $serial, 9 === $serial => $serial - 8,
                7 === $serial => self::real($bytes),
                $serial >= 12 => 0 === $serial % 2 ? new Blob($bytes) : $bytes,
                default => self::signed($bytes),
            };
            $body += $length;
        }

        return $values;
    }

    /** A page that was not taken yet; null when there is none. */
    private function take(int $number): ?string
    {
        if ($number < 1 || $number > $this->pages || '1' === $this->seen[$number]) {
            return null;
        }
        $this->seen[$number] = '1';
        $this->taken[] = $number;

        return $this->page($number);
    }

    private function page(int $number): ?string
    {
        if ($number < 1 || 0 !== fseek($this->file, ($number - 1) * $this->pageSize)) {
            return null;
        }
        $page = Disk::read($this->file, max(1, $this->pageSize), $this->path);

        return strlen($page) < $this->pageSize ? null : $page;
    }

    /**
     * @return array{int, int} the number and where it ends
     *
     * @throws \UnexpectedValueException
     */
    private static function varint(string $bytes, int $at): array
    {
        $value = 0;
        for ($i = 0; $i < 9; ++$i, ++$at) {
            if (!isset($bytes[$at])) {
                throw new \UnexpectedValueException('A number leaves its page.');
            }
            $byte = ord($bytes[$at]);
            if (8 === $i) {
                return [($value << 8) | $byte, $at + 1];
            }
            $value = ($value << 7) | ($byte & 0x7F);
            if ($byte < 0x80) {
                return [$value, $at + 1];
            }
        }

        return [$value, $at];
    }

    private static function number(string $bytes, int $at): int
    {
        /** @var array{1: int}|false $number */
        $number = strlen($bytes) >= $at + 4 ? unpack('N', $bytes, $at) : false;

        return false === $number ? 0 : $number[1];
    }

    private static function short(string $bytes, int $at): int
    {
        return (ord($bytes[$at] ?? "\0") << 8) | ord($bytes[$at + 1] ?? "\0");
    }

    private static function signed(string $bytes): int
    {
        $value = ord($bytes[0]) >= 0x80 ? -1 : 0;
        foreach (str_split($bytes) as $byte) {
            $value = ($value << 8) | ord($byte);
        }

        return $value;
    }

    private static function real(string $bytes): float
    {
        /** @var array{1: float} $number */
        $number = unpack('E', $bytes);

        return $number[1];
    }
}
