<?php

declare(strict_types=1);

namespace Geschenk\App\Http;

/**
 * Closes what a text opens: a name that turns the direction of writing and never turns it back would turn round what
 * stands beside it on the page, a phone's battery for one. A closing mark that closes nothing of its own text is dropped.
 *
 * @see https://www.unicode.org/reports/tr9/ explicit directional embeddings, overrides and isolates
 */
final class Directions
{
    private const END_OF_EMBEDDING = '202c';
    private const END_OF_ISOLATE = '2069';

    /** @param string $json all but ASCII escaped, as JsonResponse does */
    public static function closedIn(string $json): string
    {
        if (!str_contains($json, '\u202') && !str_contains($json, '\u206')) {
            return $json;
        }

        return (string) preg_replace_callback(
            '/"[^"\\\\]*+(?:\\\\.[^"\\\\]*+)*+"/',
            static fn (array $string): string => '"'.self::closed(substr($string[0], 1, -1)).'"',
            $json,
        );
    }

    private static function closed(string $text): string
    {
        /** @var list<string> $open what closes each that is open, the innermost last */
        $open = [];
        $closed = (string) preg_replace_callback(
            // Every escape is taken, so that a backslash of the text itself is not read as the beginning of one.
            '/\\\\(?:u(20(?:2[a-e]|6[6-9]))|.)/',
            static function (array $escape) use (&$open): string {
                $mark = $escape[1] ?? '';
                if (in_array($mark, ['202a', '202b', '202d', '202e'], true)) {
                    $open[] = self::END_OF_EMBEDDING;
                } elseif (in_array($mark, ['2066', '2067', '2068'], true)) {
                    $open[] = self::END_OF_ISOLATE;
                } elseif (self::END_OF_EMBEDDING === $mark) {
                    if ($mark !== end($open)) {
                        return '';
                    }
                    array_pop($open);
                } elseif (self::END_OF_ISOLATE === $mark) {
                    if (!in_array($mark, $open, true)) {
                        return '';
                    }
                    // The end of an isolate also ends what was opened within it.
                    while ($mark !== array_pop($open)) {
                    }
                }

                return $escape[0];
            },
            $text,
        );

        return $closed.implode('', array_map(static fn (string $end): string => '\u'.$end, array_reverse($open)));
    }
}
