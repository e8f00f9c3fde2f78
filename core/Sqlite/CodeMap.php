<?php

declare(strict_types=1);

namespace Geschenk\Core\Sqlite;

/** Tables of codes as SQL. */
final class CodeMap
{
    /**
     * "CASE column WHEN 10 THEN 'text' … END": NULL for a code that is not in the table.
     *
     * @param array<int, \BackedEnum> $table
     */
    public static function toValue(string $column, array $table): string
    {
        $sql = 'CASE '.$column;
        foreach ($table as $code => $value) {
            $sql .= sprintf(" WHEN %d THEN '%s'", $code, $value->value);
        }

        return $sql.' END';
    }

    /**
     * "CASE column WHEN 'text' THEN 10 … ELSE other END".
     *
     * @param array<int, \BackedEnum> $table
     */
    public static function toCode(string $column, array $table, int $other): string
    {
        $sql = 'CASE '.$column;
        foreach ($table as $code => $value) {
            $sql .= sprintf(" WHEN '%s' THEN %d", $value->value, $code);
        }

        return $sql.sprintf(' ELSE %d END', $other);
    }

    /**
     * SQL that is true where a column holds a code of the table; those that come first are found soonest, which is
     * quicker than IN.
     *
     * @param non-empty-array<int, \BackedEnum> $table
     */
    public static function isIn(string $column, array $table): string
    {
        return '('.implode(
            ' OR ', array_map(static fn (int $code): string => "$column = $code", array_keys($table)),
        ).')';
    }
}
