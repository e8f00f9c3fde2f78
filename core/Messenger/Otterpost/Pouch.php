<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost;

use Geschenk\Core\Messenger\UnusableInput;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\ForeignDatabase;
use Geschenk\Core\Sqlite\Row;
use Geschenk\Core\Sqlite\Selection;
use Geschenk\Core\Store\StoreWriter;

/**
 * An Otterpost database of either platform, opened for one reading and checked against the tables that its generation
 * has. What it has on top of them is listed as findings and handed out as opaque details.
 */
final class Pouch
{
    public readonly Database $database;

    /**
     * @param array<string, list<string>> $unknownColumns columns that the generation does not have, by table
     * @param array<string, string>       $columns        what to select, by table
     */
    private function __construct(
        private readonly ForeignDatabase $foreign,
        private readonly array $unknownColumns,
        private readonly array $columns,
        private readonly string $detailPrefix,
        private readonly StoreWriter $store,
    ) {
        $this->database = $foreign->database;
    }

    /**
     * @param array<string, string> $tables       statements that make the tables of the generation, by name
     * @param string                $detailPrefix for opaque details of this format
     *
     * @throws UnusableInput
     */
    public static function open(string $path, array $tables, string $detailPrefix, StoreWriter $store): self
    {
        $foreign = ForeignDatabase::open($path);
        $found = $foreign->tables();
        $unknown = [];
        $columns = [];
        foreach ($tables as $table => $statement) {
            $known = Selection::columns($statement);
            $missing = array_diff($known, $found[$table] ?? []);
            if ([] !== $missing) {
                throw UnusableInput::damaged($path, sprintf('table %s lacks %s', $table, implode(', ', $missing)));
            }
            $unknown[$table] = array_values(array_diff($found[$table] ?? [], $known));
            $columns[$table] = Selection::of($statement, $found[$table] ?? []);
        }
        foreach (array_keys(array_diff_key($found, $tables)) as $table) {
            $store->finding('unknown_table', $table);
        }

        return new self($foreign, $unknown, $columns, $detailPrefix, $store);
    }

    /**
     * @param callable(): void $work reads from the database
     *
     * @throws UnusableInput when the database turns out to be damaged on the way
     */
    public function readWith(callable $work): void
    {
        $this->foreign->guard($work);
        $this->foreign->close();
    }

    /** "SELECT all columns FROM the table" and the rest of a query. */
    public function select(string $table, string $rest = ''): string
    {
        return sprintf('SELECT %s FROM %s %s', $this->columns[$table], $table, $rest);
    }

    /**
     * Adds the values of columns that the generation does not have.
     *
     * @param array<string, scalar|null> $opaque
     *
     * @return array<string, scalar|null>
     */
    public function withUnknownColumns(string $table, Row $row, array $opaque): array
    {
        foreach ($this->unknownColumns[$table] ?? [] as $column) {
            $value = $row->values[$column] ?? null;
            if (is_scalar($value) && '' !== $value) {
                $opaque[$this->detailPrefix.$table.'.'.$column] = $value;
                $this->store->finding('unknown_column', $table.'.'.$column, mb_substr(mb_scrub((string) $value), 0, 60));
            }
        }

        return $opaque;
    }

    /**
     * Keeps a code that the generation does not have.
     *
     * @param array<string, scalar|null> $opaque
     */
    public function keepUnknown(string $finding, string $subject, int|string $value, array &$opaque): void
    {
        $opaque[$this->detailPrefix.$subject] = $value;
        $this->store->finding($finding, $subject.' = '.$value);
    }
}
