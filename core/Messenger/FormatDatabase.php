<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

use Geschenk\Core\Sqlite\Damage;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\ForeignDatabase;
use Geschenk\Core\Sqlite\ForeignTable;
use Geschenk\Core\Sqlite\Row;
use Geschenk\Core\Sqlite\Selection;
use Geschenk\Core\Store\SafeJson;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Core\UnusableInput;

/**
 * A foreign database of a known format, opened for one reading and checked against the tables that its generation has.
 * What it has on top of them is listed as findings and handed out as opaque details.
 */
final class FormatDatabase
{
    private const LOG = 'write-ahead log';

    /** @var array<string, list<string>> columns in the order of columns(), by table */
    private array $names = [];
    /** @var array<string, string> what columns() gave, by table and alias */
    private array $columns = [];

    public readonly Database $database;

    /**
     * @param array<string, string>       $tables         statements that make the tables of the generation
     * @param array<string, list<string>> $found          columns that are there, by table
     * @param array<string, list<string>> $unknownColumns columns that the generation does not have, by table
     */
    private function __construct(
        private readonly ForeignDatabase $foreign,
        private readonly array $tables,
        private readonly array $found,
        private readonly array $unknownColumns,
        private readonly string $detailPrefix,
        private readonly StoreWriter $store,
    ) {
        $this->database = $foreign->database;
    }

    /**
     * @param array<string, string> $tables       statements that make the tables of the generation, by name
     * @param string                $detailPrefix for opaque details of this format
     * @param string                $indexes      statements that make the generation's indexes, for a database that has
     * to be mended
     *
     * @throws UnusableInput
     */
    public static function open(
        string $path,
        array $tables,
        string $indexes,
        string $detailPrefix,
        StoreWriter $store,
    ): self {
        $foreign = ForeignDatabase::open($path, $tables, $indexes);
        $found = $foreign->tables();
        $unknown = [];
        foreach ($tables as $table => $statement) {
            $known = Selection::columns($statement);
            $missing = array_diff($known, $found[$table] ?? []);
            if ([] !== $missing) {
                throw UnusableInput::damaged($path, sprintf('table %s lacks %s', $table, implode(', ', $missing)));
            }
            $unknown[$table] = array_values(array_diff($found[$table] ?? [], $known));
        }
        foreach (array_keys(array_diff_key($found, $tables)) as $table) {
            $store->finding('unknown_table', $table);
        }

        if (null !== $foreign->damage) {
            self::listDamage($foreign->damage, $store);
        }
        if ($foreign->bytesBehind > 0) {
            $store->finding('bytes_behind_database', basename($path), number_format($foreign->bytesBehind).' bytes');
        }

        return new self($foreign, $tables, $found, $unknown, $detailPrefix, $store);
    }

    private static function listDamage(Damage $damage, StoreWriter $store): void
    {
        foreach ($damage->unreadablePages as $owner => $pages) {
            $store->finding('pages_unreadable', $owner, null, max(1, $pages));
        }
        foreach ($damage->lostRows as $index => $rows) {
            $store->finding('rows_lost', $index, null, array_sum($rows));
        }
        foreach ($damage->uncounted as $table) {
            $store->finding('loss_uncounted', $table);
        }
        $log = $damage->log;
        if ($log->unreadable > 0) {
            $store->finding('log_pages_unreadable', self::LOG, null, $log->unreadable);
        }
        if ($log->isOpen) {
            $store->finding('log_cut', self::LOG);
        }
        if ($log->isShort()) {
            // What stood in those pages nobody else knows.
            $store->finding('loss_uncounted', self::LOG);
        }
        if ($log->mended > 0) {
            $store->finding('damage_mended', self::LOG, null, $log->mended);
        }
        if ([] === $damage->unreadablePages && 0 === $damage->rows() && !$log->isShort() && 0 === $log->mended) {
            $store->finding('damage_mended', 'indexes');
        }
    }

    /** What the database lost by damage before it could be read; null when it was whole. */
    public function damage(): ?Damage
    {
        return $this->foreign->damage;
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
        return sprintf(
            'SELECT %s FROM %s %s', Selection::of($this->tables[$table], $this->found[$table]), $table, $rest,
        );
    }

    /**
     * The list of all columns of a table for a SELECT: those of the generation in their order, then the unknown ones.
     */
    public function columns(string $table, string $alias): string
    {
        return $this->columns[$table.'.'.$alias] ??= Selection::of(
            $this->tables[$table], $this->found[$table], $alias.'.',
        );
    }

    /**
     * SQL that is true where none of a table's unknown columns holds anything.
     */
    public function holdsNothingUnknown(string $table, string $alias): string
    {
        return implode(
            '',
            array_map(
                static fn (string $c): string => sprintf(' AND %s.%s IS NULL', $alias, ForeignTable::quoted($c)),
                $this->unknownColumns[$table],
            ),
        );
    }

    /**
     * SQL that is true where a row has nothing set but what the short way names: made from the schema and from what is
     * really there, so that a forgotten column costs speed and never data.
     *
     * @param string       $sql       of the short way: columns, joins and conditions
     * @param list<string> $structure see Selection::nothingElse()
     */
    public function holdsNothingElse(string $table, string $alias, string $sql, array $structure = []): string
    {
        $there = array_intersect(Selection::columns($this->tables[$table]), $this->found[$table]);
        $columns = [...array_values($there), ...$this->unknownColumns[$table]];

        return Selection::nothingElse($columns, $alias, $sql, $structure);
    }

    public function path(): string
    {
        return $this->foreign->path;
    }

    /** @param list<mixed> $values in the order of columns() */
    public function row(string $table, array $values): TolerantRow
    {
        return new TolerantRow(
            $this->store, $table,
            array_combine(
                $this->names[$table] ??= [
                    ...Selection::columns($this->tables[$table]), ...$this->unknownColumns[$table],
                ],
                $values,
            ),
        );
    }

    public function tolerant(string $table, Row $row): TolerantRow
    {
        return new TolerantRow($this->store, $table, $row->values);
    }

    /**
     * What an earlier move carried along as JSON: an object of details. What is none of that is listed.
     *
     * @return array<string, scalar>
     */
    public function foreignJson(?string $json, string $subject): array
    {
        if (null === $json) {
            return [];
        }
        $values = json_decode($json, true, 16);
        if (!is_array($values)) {
            $this->store->finding('value_unreadable', $subject, mb_substr(mb_scrub(substr($json, 0, 240)), 0, 60));

            return [];
        }
        $details = [];
        foreach (SafeJson::decode($json) as $key => $value) {
            if (is_scalar($value)) {
                $details[(string) $key] = $value;
            } else {
                $this->store->finding('value_unreadable', $subject.'.'.mb_scrub((string) $key));
            }
        }

        return $details;
    }

    /** Whether the database has a table that not every one of its generation has. */
    public function has(string $table): bool
    {
        return isset($this->found[$table]);
    }

    /**
     * Adds the values of columns that the generation does not have.
     *
     * @param list<mixed>                $values of rows()
     * @param array<string, scalar|null> $opaque
     * @param string                     $subject what the details are called, where that is not the table's name
     *
     * @return array<string, scalar|null>
     */
    public function withUnknownColumns(string $table, array $values, array $opaque, ?string $subject = null): array
    {
        if ([] === $this->unknownColumns[$table]) {
            return $opaque;
        }
        $at = count($values) - count($this->unknownColumns[$table]);
        foreach ($this->unknownColumns[$table] as $column) {
            $value = $values[$at++] ?? null;
            if (is_scalar($value)) {
                // JSON and property lists have no word for what is no number.
                $opaque[$this->detailPrefix.($subject ?? $table).'.'.$column] = is_float($value) && !is_finite($value)
                    ? (string) $value
                    : $value;
                $this->store->finding(
                    'unknown_column', $table.'.'.$column, mb_substr(mb_scrub((string) $value), 0, 60),
                );
            }
        }

        return $opaque;
    }

    /** Lists unknown columns of a table whose rows have no place for opaque details; how often they hold something. */
    public function listUnknownColumns(string ...$tables): void
    {
        foreach ($tables as $table) {
            foreach ($this->unknownColumns[$table] ?? [] as $column) {
                $quoted = ForeignTable::quoted($column);
                $count = $this->database->one(
                    sprintf('SELECT COUNT(*) AS n FROM %s WHERE %s IS NOT NULL', $table, $quoted),
                )?->int('n') ?? 0;
                if ($count > 0) {
                    $this->store->finding('unknown_column', $table.'.'.$column, null, $count);
                }
            }
        }
    }

    /**
     * Keeps a code that the generation does not have.
     *
     * @param array<string, scalar|null> $opaque
     */
    public function keepUnknown(string $finding, string $subject, bool|float|int|string $value, array &$opaque): void
    {
        $opaque[$this->detailPrefix.$subject] = $value;
        $this->store->finding($finding, $subject.' = '.(is_bool($value) ? ($value ? 'true' : 'false') : $value));
    }

    /**
     * Makes something of a row that is not worth refusing everything else for.
     *
     * @template T
     *
     * @param callable(): T $make
     *
     * @return T|null null when the row can't be used, which is listed
     */
    public function attempt(string $table, callable $make): mixed
    {
        try {
            return $make();
        } catch (\TypeError|\ValueError|\UnexpectedValueException $error) {
            $this->rowUnreadable($table, $error);

            return null;
        }
    }

    /** Lists a row whose values are not of the types that its table promises; nothing of it can be used. */
    public function rowUnreadable(string $table, \Throwable $error): void
    {
        $this->store->finding(
            'row_unreadable', $table,
            mb_substr(preg_replace('/, called in .*/', '', $error->getMessage()) ?? '', 0, 160),
        );
    }
}
