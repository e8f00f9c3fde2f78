<?php

declare(strict_types=1);

namespace Geschenk\App\Customer;

use Doctrine\DBAL\Query\QueryBuilder as SqlBuilder;
use Doctrine\ORM\QueryBuilder;

/** Finds records by words: each of them stands somewhere in one of some columns, in capital letters or small ones. */
final class FoundByWords
{
    /**
     * @param string       $words   as somebody typed them
     * @param list<string> $columns in DQL, or in SQL, as the query is; or conditions, with %s where
     *                              the comparison stands
     * @param string|null  $number  column of a whole number that a word may be
     */
    public static function narrow(
        QueryBuilder|SqlBuilder $found,
        string $words,
        array $columns,
        ?string $number = null,
    ): void {
        foreach ((array) preg_split('/\s+/u', trim($words), -1, \PREG_SPLIT_NO_EMPTY) as $n => $word) {
            self::byWord($found, "w$n", (string) $word, $columns, $number);
        }
    }

    /** @param list<string> $columns */
    private static function byWord(
        QueryBuilder|SqlBuilder $found,
        string $name,
        string $word,
        array $columns,
        ?string $number,
    ): void {
        // SQLite tells capital letters from small ones beyond ASCII: all ways of writing are looked for.
        $ways = 1 === preg_match('/^[\x20-\x7e]*$/D', $word) ? [$word] : array_values(array_unique([
            $word, mb_strtolower($word), mb_strtoupper($word), mb_convert_case($word, \MB_CASE_TITLE),
        ]));
        $either = [];
        foreach ($ways as $way => $written) {
            foreach ($columns as $column) {
                $is = sprintf("LIKE :%s_%d ESCAPE '!'", $name, $way);
                $either[] = str_contains($column, '%s') ? sprintf($column, $is) : "$column $is";
            }
            $like = strtr($written, ['!' => '!!', '%' => '!%', '_' => '!_']);
            $found->setParameter($name.'_'.$way, '%'.$like.'%');
        }
        if (null !== $number && 1 === preg_match('/^\d{1,9}$/', $word)) {
            $either[] = $number.' = :'.$name.'_number';
            $found->setParameter($name.'_number', (int) $word);
        }
        $found->andWhere(implode(' OR ', $either));
    }
}
