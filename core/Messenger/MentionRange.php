<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

/**
 * Stretches of a text, counted in UTF-8 bytes on Android and in UTF-16 units on iOS. A byte that belongs to no valid
 * UTF-8 sequence counts as one unit, so that every text has one count of each.
 */
final class MentionRange
{
    private const CHARACTER = '/[\x00-\x7F]|[\xC2-\xDF][\x80-\xBF]'
        .'|\xE0[\xA0-\xBF][\x80-\xBF]|[\xE1-\xEC\xEE\xEF][\x80-\xBF]{2}|\xED[\x80-\x9F][\x80-\xBF]'
        .'|\xF0[\x90-\xBF][\x80-\xBF]{2}|[\xF1-\xF3][\x80-\xBF]{3}|\xF4[\x80-\x8F][\x80-\xBF]{2}'
        .'|./s';
    private const PORTION = 65_536;

    /**
     * @return array{
     *     int, int,
     * }|null first unit and number of units; null when the bytes begin or end within a character, or off the text
     */
    public static function toUnits(string $text, int $start, int $length): ?array
    {
        if ($start < 0 || $length < 1 || $start > strlen($text) - $length) {
            return null;
        }
        $from = $to = null;
        $bytes = $units = 0;
        foreach (self::characters($text) as $character) {
            $from = $bytes === $start ? $units : $from;
            $to = $bytes === $start + $length ? $units : $to;
            $bytes += strlen($character);
            $units += self::unitsOf($character);
            if ($bytes >= $start + $length) {
                break;
            }
        }
        $to = $bytes === $start + $length ? $units : $to;

        return null === $from || null === $to ? null : [$from, $to - $from];
    }

    /**
     * @return array{
     *     int, int,
     * }|null first byte and number of bytes; null when the units begin or end within a character, or off the text
     */
    public static function toBytes(string $text, int $start, int $length): ?array
    {
        if ($start < 0 || $length < 1 || $start > strlen($text) || $length > strlen($text)) {
            return null;
        }
        $from = $to = null;
        $bytes = $units = 0;
        foreach (self::characters($text) as $character) {
            $from = $units === $start ? $bytes : $from;
            $to = $units === $start + $length ? $bytes : $to;
            $bytes += strlen($character);
            $units += self::unitsOf($character);
            if ($units >= $start + $length) {
                break;
            }
        }
        $to = $units === $start + $length ? $bytes : $to;

        return null === $from || null === $to ? null : [$from, $to - $from];
    }

    /**
     * In portions, so that a text of any length takes little memory.
     *
     * @return \Generator<int, string> valid sequences (RFC 3629) and single bytes that belong to none
     */
    private static function characters(string $text): \Generator
    {
        $length = strlen($text);
        for ($at = 0; $at < $length;) {
            $piece = substr($text, $at, self::PORTION);
            // The last bytes of a portion may be the beginning of a character.
            $isLast = $at + strlen($piece) >= $length;
            preg_match_all(self::CHARACTER, $piece, $found);
            $most = $isLast ? strlen($piece) : strlen($piece) - 3;
            $done = 0;
            foreach ($found[0] as $character) {
                if ($done >= $most) {
                    break;
                }
                yield $character;
                $done += strlen($character);
            }
            $at += $done;
        }
    }

    private static function unitsOf(string $character): int
    {
        return 4 === strlen($character) ? 2 : 1;
    }
}
