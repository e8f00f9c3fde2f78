<?php

declare(strict_types=1);

namespace Geschenk\Core\Sqlite;

/**
 * Saves what can be read from a damaged database, page by page: a page or a cell that is broken costs its own rows and
 * no others. The rows go into a clean database with the same tables, and the old indexes tell which rows are missing.
 * Format: https://www.sqlite.org/fileformat2.html
 */
final class Salvage
{
    private const TABLE_INTERIOR = 0x05;
    private const TABLE_LEAF = 0x0D;
    private const INDEX_INTERIOR = 0x02;
    private const INDEX_LEAF = 0x0A;
    private const MAX_ROW_BYTES = 16_000_000;
    private const DEPTH = 40;

    /** @var resource */
    private mixed $file;
    private int $pages;
    private int $usable;
    /** A byte a page: "1" once it was taken for something. */
    private string $seen;
    /** @var array<string, int> */
    private array $unreadable = [];
    private bool $freelistIsWhole = true;

    private function __construct(string $path, private readonly int $pageSize, int $reserved)
    {
        $file = fopen($path, 'r');
        if (false === $file) {
            throw new \RuntimeException(sprintf('%s can\'t be read.', $path));
        }
        $this->file = $file;
        $this->pages = intdiv((int) filesize($path), $pageSize);
        $this->usable = $pageSize - $reserved;
        $this->seen = str_repeat('0', $this->pages + 1);
    }

    /**
     * @param string                $damaged a copy that nobody else has open, its write-ahead log applied
     * @param string                $clean   the database to make
     * @param array<string, string> $tables  statements that make the tables, one line each, by name
     * @param string                $indexes statements that make the indexes, a line each
     *
     * @throws \UnexpectedValueException when not even the list of tables can be read
     */
    public static function into(string $damaged, string $clean, array $tables, string $indexes, int $logFrames): Damage
    {
        $header = DatabaseHeader::of($damaged) ?? throw new \UnexpectedValueException('its first page is unreadable');
        if ($header->pageSize < 512 || 0 !== ($header->pageSize & ($header->pageSize - 1)) || $header->reserved > 255 || $header->pageSize - $header->reserved < 480) {
            throw new \UnexpectedValueException('its first page is damaged');
        }

        return (new self($damaged, $header->pageSize, $header->reserved))->run($clean, $tables, $indexes, $logFrames);
    }

    public function __destruct()
    {
        fclose($this->file);
    }

    /** @param array<string, string> $tables */
    private function run(string $clean, array $tables, string $indexes, int $logFrames): Damage
    {
        $roots = $this->roots();
        $database = Database::create($clean);
        $database->execute('BEGIN');
        $this->freelist();
        $wanted = [];
        foreach ($roots as $name => [$type, $root, $sql]) {
            $columns = 'table' === $type && isset($tables[$name]) ? self::columnsOf($sql, $tables[$name]) : null;
            if (null !== $columns) {
                $wanted[$name] = $columns;
                $database->execute(self::cleanTable($name, $columns));
            }
        }
        foreach ($roots as $name => [$type, $root]) {
            if ('table' === $type && isset($wanted[$name])) {
                $this->saveTable($database, $name, $wanted[$name], $root);
            } elseif ('table' === $type) {
                // Not wanted, but its pages must not be taken for somebody else's.
                foreach ($this->tableRows($root, $name) as $_) {
                }
            }
        }
        $entries = [];
        preg_match_all('/CREATE INDEX (\w+) ON (\w+) \(/', $indexes, $known, \PREG_SET_ORDER);
        $tableOf = array_column($known, 2, 1);
        foreach ($roots as $name => [$type, $root]) {
            if ('index' === $type) {
                $entries[$name] = $this->missingEntries($database, $root, $name, isset($wanted[$tableOf[$name] ?? '']) ? $tableOf[$name] : null);
            }
        }
        $this->saveOrphans($database, $wanted, $entries, $tableOf);
        $lost = [];
        $uncounted = [];
        foreach ($entries as $index => $rows) {
            foreach ($rows as $rowId => $value) {
                if (null === $database->one(sprintf('SELECT 1 AS here FROM %s WHERE rowid = ?', $tableOf[$index]), [$rowId])) {
                    $lost[$index][$value] = ($lost[$index][$value] ?? 0) + 1;
                }
            }
        }
        foreach (array_keys($this->unreadable) as $name) {
            $indexesOfIt = array_keys($tableOf, $name, true);
            if (isset($wanted[$name]) && ([] === $indexesOfIt || [] !== array_intersect_key($this->unreadable, array_flip($indexesOfIt)) || [] === array_intersect_key($roots, array_flip($indexesOfIt)))) {
                $uncounted[] = $name;
            }
        }
        foreach (explode("\n", $indexes) as $statement) {
            if (1 === preg_match('/^\s*CREATE INDEX \w+ ON (\w+) /', $statement, $on) && isset($wanted[$on[1]])) {
                $database->execute($statement);
            }
        }
        $database->execute('COMMIT');
        $database->close();

        return new Damage($this->unreadable, $lost, $logFrames, $uncounted);
    }

    /** @return array<string, array{'table'|'index', int, string}> type, first page and statement by name */
    private function roots(): array
    {
        $roots = [];
        foreach ($this->tableRows(1, 'sqlite_schema') as [, $row]) {
            [$type, $name, , $root, $sql] = [...$row, null, null, null, null, null];
            if (is_string($name) && is_int($root) && $root > 1 && ('table' === $type || 'index' === $type)) {
                $roots[$name] = [$type, $root, is_string($sql) ? $sql : ''];
            }
        }
        if ([] === $roots) {
            throw new \UnexpectedValueException('the list of its tables is unreadable');
        }

        return $roots;
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

    /** @param list<array{name: string, isRowId: bool, type: string}> $columns */
    private function saveTable(Database $database, string $name, array $columns, int $root): void
    {
        foreach ($this->tableRows($root, $name) as [$rowId, $values]) {
            $this->save($database, $name, $columns, $rowId, $values);
        }
    }

    /**
     * @param list<array{name: string, isRowId: bool, type: string}> $columns
     * @param list<int|float|string|Blob|null>                       $values
     */
    private function save(Database $database, string $name, array $columns, int $rowId, array $values): void
    {
        $row = ['rowid' => $rowId];
        foreach ($columns as $place => $column) {
            if (!$column['isRowId']) {
                $row['"'.str_replace('"', '""', $column['name']).'"'] = $values[$place] ?? null;
            }
        }
        $database->run(sprintf('INSERT OR IGNORE INTO %s (%s) VALUES (%s)', $name, implode(', ', array_keys($row)), implode(', ', array_fill(0, count($row), '?'))), array_values($row));
    }

    /**
     * Leaf pages that no tree leads to any more, since the page above them is broken. They are given to the one table
     * that lost pages and that their rows fit.
     *
     * @param array<string, list<array{name: string, isRowId: bool, type: string}>> $wanted
     * @param array<string, array<int, int|string>>                                        $entries
     * @param array<string, string>                                                 $tableOf
     */
    private function saveOrphans(Database $database, array $wanted, array $entries, array $tableOf): void
    {
        $hurt = array_intersect_key($wanted, $this->unreadable);
        if (!$this->freelistIsWhole || [] === $hurt) {
            return;
        }
        for ($number = 2; $number <= $this->pages; ++$number) {
            if ('0' !== $this->seen[$number] || self::TABLE_LEAF !== ord($this->page($number)[0] ?? "\0")) {
                continue;
            }
            $rows = iterator_to_array($this->leafRows($number, 'orphan'), false);
            foreach ($hurt as $name => $columns) {
                if ([] !== $rows && $this->fits($rows, $columns, $name, $entries, $tableOf)) {
                    foreach ($rows as [$rowId, $values]) {
                        $this->save($database, $name, $columns, $rowId, $values);
                    }
                    break;
                }
            }
        }
        unset($this->unreadable['orphan']);
    }

    /**
     * @param list<array{int, list<int|float|string|Blob|null>}>     $rows
     * @param list<array{name: string, isRowId: bool, type: string}> $columns
     * @param array<string, array<int, int|string>>                         $entries
     * @param array<string, string>                                  $tableOf
     */
    private function fits(array $rows, array $columns, string $name, array $entries, array $tableOf): bool
    {
        foreach ($rows as [, $values]) {
            if (count($values) !== count($columns)) {
                return false;
            }
            foreach ($columns as $place => $column) {
                $value = $values[$place];
                $fits = match ($column['type']) {
                    'INTEGER' => null === $value || is_int($value),
                    'TEXT' => null === $value || is_string($value),
                    'REAL' => null === $value || is_float($value) || is_int($value),
                    default => true,
                };
                if (!$fits || ($column['isRowId'] && null !== $value)) {
                    return false;
                }
            }
        }
        // Where an index of the table is left, it has to know the rows.
        foreach (array_keys($tableOf, $name, true) as $index) {
            if (isset($entries[$index]) && [] !== $entries[$index]) {
                return isset($entries[$index][$rows[0][0]]);
            }
        }

        return true;
    }

    /**
     * Rows that an index names and that were not saved.
     *
     * @param string|null $table null where the index is only walked to know its pages
     *
     * @return array<int, int|string> first column of the index by row id
     */
    private function missingEntries(Database $database, int $root, string $name, ?string $table): array
    {
        $missing = [];
        foreach ($this->indexRows($root, $name) as $values) {
            $value = $values[0] ?? null;
            $rowId = $values[count($values) - 1] ?? null;
            if (null === $table || !is_int($rowId) || (!is_int($value) && !is_string($value))) {
                continue;
            }
            if (null === $database->one(sprintf('SELECT 1 AS here FROM %s WHERE rowid = ?', $table), [$rowId])) {
                $missing[$rowId] = $value;
            }
        }

        return $missing;
    }

    /** @return \Generator<int, array{int, list<int|float|string|Blob|null>}> row ids and values */
    private function tableRows(int $number, string $owner, int $depth = 0): \Generator
    {
        $page = $this->take($number);
        $at = 1 === $number ? DatabaseHeader::BYTES : 0;
        $type = null === $page ? -1 : ord($page[$at]);
        if (null === $page || $depth > self::DEPTH || (self::TABLE_LEAF !== $type && self::TABLE_INTERIOR !== $type)) {
            $this->unreadable[$owner] = ($this->unreadable[$owner] ?? 0) + 1;

            return;
        }
        if (self::TABLE_LEAF === $type) {
            yield from $this->leafRows($number, $owner);

            return;
        }
        foreach ($this->cells($page, $at, 12) as $offset) {
            yield from $this->tableRows(self::number($page, $offset), $owner, $depth + 1);
        }
        yield from $this->tableRows(self::number($page, $at + 8), $owner, $depth + 1);
    }

    /** @return \Generator<int, array{int, list<int|float|string|Blob|null>}> */
    private function leafRows(int $number, string $owner): \Generator
    {
        $page = $this->page($number) ?? '';
        foreach ($this->cells($page, 1 === $number ? DatabaseHeader::BYTES : 0, 8) as $offset) {
            try {
                [$size, $after] = self::varint($page, $offset);
                [$rowId, $after] = self::varint($page, $after);
                yield [$rowId, self::record($this->payload($page, $after, $size, $this->usable - 35))];
            } catch (\UnexpectedValueException) {
                $this->unreadable[$owner] ??= 0;
            }
        }
    }

    /** @return \Generator<int, list<int|float|string|Blob|null>> */
    private function indexRows(int $number, string $owner, int $depth = 0): \Generator
    {
        $page = $this->take($number);
        $type = null === $page ? -1 : ord($page[0]);
        if (null === $page || $depth > self::DEPTH || (self::INDEX_LEAF !== $type && self::INDEX_INTERIOR !== $type)) {
            $this->unreadable[$owner] = ($this->unreadable[$owner] ?? 0) + 1;

            return;
        }
        $isLeaf = self::INDEX_LEAF === $type;
        foreach ($this->cells($page, 0, $isLeaf ? 8 : 12) as $offset) {
            if (!$isLeaf) {
                yield from $this->indexRows(self::number($page, $offset), $owner, $depth + 1);
            }
            try {
                [$size, $after] = self::varint($page, $offset + ($isLeaf ? 0 : 4));
                yield self::record($this->payload($page, $after, $size, intdiv(($this->usable - 12) * 64, 255) - 23));
            } catch (\UnexpectedValueException) {
                $this->unreadable[$owner] ??= 0;
            }
        }
        if (!$isLeaf) {
            yield from $this->indexRows(self::number($page, 8), $owner, $depth + 1);
        }
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

    /** @throws \UnexpectedValueException when a part of it can't be found */
    private function payload(string $page, int $at, int $size, int $most): string
    {
        if ($size < 0 || $size > self::MAX_ROW_BYTES) {
            throw new \UnexpectedValueException('A row is too long to be true.');
        }
        $local = $size;
        if ($size > $most) {
            $least = intdiv(($this->usable - 12) * 32, 255) - 23;
            $local = $least + ($size - $least) % ($this->usable - 4);
            $local = $local <= $most ? $local : $least;
        }
        if ($at + $local > $this->usable) {
            throw new \UnexpectedValueException('A row leaves its page.');
        }
        $bytes = substr($page, $at, $local);
        $next = $local < $size ? self::number($page, $at + $local) : 0;
        while (strlen($bytes) < $size) {
            $overflow = $this->take($next) ?? throw new \UnexpectedValueException('A row goes on in a page that is not there.');
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
                $serial < 0, 10 === $serial, 11 === $serial => throw new \UnexpectedValueException('A row holds a value of no known type.'),
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

        return $this->page($number);
    }

    private function page(int $number): ?string
    {
        if ($number < 1 || 0 !== fseek($this->file, ($number - 1) * $this->pageSize)) {
            return null;
        }
        $page = fread($this->file, max(1, $this->pageSize));

        return false === $page || strlen($page) < $this->pageSize ? null : $page;
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

    /**
     * The columns of a table as its own statement has them; the types are ours where we know the column.
     *
     * @return list<array{name: string, isRowId: bool, type: string}>|null null when the statement can't be understood
     */
    private static function columnsOf(string $sql, string $ours): ?array
    {
        $types = Selection::types($ours);
        $memory = new \SQLite3(':memory:');
        $memory->enableExceptions(true);
        // The statement is foreign: it may make its table and nothing else.
        $memory->setAuthorizer(static fn (int $action): int => in_array($action, [\SQLite3::CREATE_TABLE, \SQLite3::CREATE_INDEX, \SQLite3::INSERT, \SQLite3::UPDATE, \SQLite3::READ, \SQLite3::SELECT, \SQLite3::FUNCTION, \SQLite3::REINDEX], true) ? \SQLite3::OK : \SQLite3::DENY);
        try {
            $memory->exec($sql);
            $memory->setAuthorizer(null);
            $name = $memory->querySingle("SELECT name FROM sqlite_schema WHERE type = 'table'");
            $columns = [];
            foreach ((new Database($memory))->rows('SELECT name, type, pk FROM pragma_table_info(?) ORDER BY cid', [is_string($name) ? $name : '']) as $row) {
                $columns[] = ['name' => $row->text('name'), 'isRowId' => 1 === $row->int('pk') && 'INTEGER' === strtoupper($row->nullableText('type') ?? ''), 'type' => $types[$row->text('name')] ?? ''];
            }
        } catch (\Exception) {
            return null;
        }

        return [] === $columns ? null : $columns;
    }

    /** @param list<array{name: string, isRowId: bool, type: string}> $columns */
    private static function cleanTable(string $name, array $columns): string
    {
        return sprintf('CREATE TABLE %s (%s)', $name, implode(', ', array_map(static fn (array $c): string => sprintf('"%s" %s%s', str_replace('"', '""', $c['name']), $c['type'], $c['isRowId'] ? ' PRIMARY KEY' : ''), $columns)));
    }
}
