<?php

declare(strict_types=1);

namespace Geschenk\Core\Sqlite;

/**
 * The list of columns for a SELECT in which every text keeps all its bytes: PHP's sqlite3 extension ends a TEXT at its
 * first NUL and leaves a BLOB whole.
 */
final class Selection
{
    private const COLUMN = '/(?:\(|, )([A-Za-z_0-9]+) (TEXT|INTEGER|BLOB|REAL)/';

    /**
     * @param string $createTable the statement that makes the table, one line
     *
     * @return list<string> its columns, in their order
     */
    public static function columns(string $createTable): array
    {
        preg_match_all(self::COLUMN, $createTable, $columns);

        return $columns[1];
    }

    /**
     * @param string $createTable the statement that makes the table, one line
     *
     * @return array<string, 'TEXT'|'INTEGER'|'BLOB'|'REAL'> declared types by column, in their order
     */
    public static function types(string $createTable): array
    {
        preg_match_all(self::COLUMN, $createTable, $columns, \PREG_SET_ORDER);
        $types = [];
        foreach ($columns as [, $name, $type]) {
            /** @var 'TEXT'|'INTEGER'|'BLOB'|'REAL' $type */
            $types[$name] = $type;
        }

        return $types;
    }

    /**
     * SQL that is true where nothing is set but what other SQL names: so a column that a statement forgets makes its
     * rows go another way, and is never dropped.
     *
     * @param list<string> $columns   of the table, all that are really there
     * @param string       $alias     of the table in the SQL, without its dot
     * @param string       $sql       what names columns by that alias
     * @param list<string> $structure columns that hold a row together and nothing of what it says
     */
    public static function nothingElse(array $columns, string $alias, string $sql, array $structure = []): string
    {
        preg_match_all('/\b'.preg_quote($alias, '/').'\.(?:"((?:[^"]|"")+)"|(\w+))/', $sql, $named, \PREG_SET_ORDER);
        $names = [];
        foreach ($named as $name) {
            $names[] = '' === ($name[1] ?? '') ? $name[2] ?? '' : str_replace('""', '"', $name[1] ?? '');
        }
        $rest = array_diff($columns, $names, $structure);

        return implode('', array_map(
            static fn (string $c): string => sprintf(' AND %s."%s" IS NULL', $alias, str_replace('"', '""', $c)),
            $rest,
        ));
    }

    /**
     * @param string            $createTable the statement that makes the table, one line
     * @param list<string>|null $found       the columns that are really there; those the statement does not name are
     *                                       taken as they are
     * @param string            $alias       of the table in the query, with its dot
     */
    public static function of(string $createTable, ?array $found = null, string $alias = ''): string
    {
        preg_match_all(self::COLUMN, $createTable, $columns, \PREG_SET_ORDER);
        $list = [];
        foreach ($columns as [, $name, $type]) {
            $list[$name] = 'TEXT' === $type
                ? sprintf('CAST(%2$s"%1$s" AS BLOB) AS "%1$s"', $name, $alias)
                : sprintf('%s"%s"', $alias, $name);
        }
        foreach (array_diff($found ?? [], array_keys($list)) as $name) {
            $list[$name] = $alias.'"'.str_replace('"', '""', $name).'"';
        }

        return implode(', ', $list);
    }
}
