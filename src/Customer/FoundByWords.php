<?php

declare(strict_types=1);

namespace Geschenk\App\Customer;

use Doctrine\ORM\QueryBuilder;

/** Finds records by words: each of them stands somewhere in one of some columns, in capital letters or small ones. */
final class FoundByWords
{
    /**
     * @param string       $words   as somebody typed them
     * @param list<string> $columns in DQL
     * @param string|null  $number  column of a whole number that a word may be
     */
    public static function narrow(QueryBuilder $found, string $words, array $columns, ?string $number = null): void
    {
        foreach ((array) preg_split('/\s+/u', trim($words), -1, \PREG_SPLIT_NO_EMPTY) as $n => $word) {
            self::byWord($found, "w$n", (string) $word, $columns, $number);
        }
    }

    /** @param list<string> $columns */
    private static function byWord(
        QueryBuilder $found,
        string $name,
        string $word,
        array $columns,
        ?string $number,
    ): void {
        // SQLite tells capital letters from small ones beyond ASCII: all ways of writing are looked for.
        $ways = array_values(array_unique([
            $word, mb_strtolower($word), mb_strtoupper($word), mb_convert_case($word, \MB_CASE_TITLE),
        ]));
        $either = [];
        foreach ($ways as $way => $written) {
            foreach ($columns as $column) {
                $either[] = sprintf("%s LIKE :%s_%d ESCAPE '!'", $column, $name, $way);
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
