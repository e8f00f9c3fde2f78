<?php

declare(strict_types=1);

namespace Geschenk\App\Http;

/**
 * Closes what a text opens: a name that turns the direction of writing and never turns it back would turn round what
 * stands beside it on the page, a phone's battery for one. A closing mark that closes nothing of its own text is
 * dropped.
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

        /** @var list<string> $open what closes each that is open in this string, the innermost last */
        $open = [];
        $closed = preg_replace_callback(
            // Every escape is taken, so that neither its backslash nor its quote is read as the beginning of something.
            '/\\\\(?:u(20(?:2[a-e]|6[6-9]))|.)|"/',
            static function (array $found) use (&$open): string {
                if ('"' === $found[0]) {
                    $ends = implode('', array_map(static fn (string $end): string => '\u'.$end, array_reverse($open)));
                    $open = [];

                    return $ends.'"';
                }

                return self::isKept($found[1] ?? '', $open) ? $found[0] : '';
            },
            $json,
        );

        return $closed ?? throw new \RuntimeException('The answer can not be closed: '.preg_last_error_msg());
    }

    /**
     * @param list<string> $open
     *
     * @param-out list<string> $open
     */
    private static function isKept(string $mark, array &$open): bool
    {
        if (in_array($mark, ['202a', '202b', '202d', '202e'], true)) {
            $open[] = self::END_OF_EMBEDDING;
        } elseif (in_array($mark, ['2066', '2067', '2068'], true)) {
            $open[] = self::END_OF_ISOLATE;
        } elseif (self::END_OF_EMBEDDING === $mark) {
            return $mark === end($open) && null !== array_pop($open);
        } elseif (self::END_OF_ISOLATE === $mark) {
            if (!in_array($mark, $open, true)) {
                return false;
            }
            // The end of an isolate also ends what was opened within it.
            while ($mark !== array_pop($open)) {
            }
        }

        return true;
    }
}
