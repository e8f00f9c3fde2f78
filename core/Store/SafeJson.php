<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

/** JSON whose strings may be any bytes: what is not UTF-8, or looks like this escape, travels as "base64:…". */
final class SafeJson
{
    public const PREFIX = 'base64:';
    public const FLAGS = \JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_LINE_TERMINATORS
        | \JSON_PRESERVE_ZERO_FRACTION;

    /** @param array<array-key, mixed> $values scalars, null and nested arrays of them */
    public static function encode(array $values): string
    {
        $json = json_encode($values, self::FLAGS);
        if (false !== $json && !str_contains($json, self::PREFIX)) {
            return $json;
        }

        return json_encode(self::escaped($values), self::FLAGS | \JSON_THROW_ON_ERROR);
    }

    /** @return array<array-key, mixed> empty when it is no JSON array or object */
    public static function decode(?string $json): array
    {
        if (null === $json) {
            return [];
        }
        $values = json_decode($json, true, 16);
        if (!is_array($values)) {
            return [];
        }

        return str_contains($json, self::PREFIX) ? self::unescaped($values) : $values;
    }

    /** Whether a text stands in JSON as it is, so that SQLite's functions write it as encode() does. */
    public static function isPlain(string $text): bool
    {
        return 1 !== preg_match('/[\x00-\x1F"\\\\\x7F]|base64:/', $text) && mb_check_encoding($text, 'UTF-8');
    }

    /** @return array<string, scalar|null> a flat object; nested values are left out */
    public static function map(?string $json): array
    {
        $map = [];
        foreach (self::decode($json) as $key => $value) {
            if (null === $value || is_scalar($value)) {
                $map[(string) $key] = $value;
            }
        }

        return $map;
    }

    /**
     * @param array<array-key, mixed> $values
     *
     * @return array<array-key, mixed>
     */
    private static function escaped(array $values): array
    {
        $escaped = [];
        foreach ($values as $key => $value) {
            $escaped[is_string($key) ? self::escape($key) : $key] = match (true) {
                is_array($value) => self::escaped($value),
                is_string($value) => self::escape($value),
                default => $value,
            };
        }

        return $escaped;
    }

    /**
     * @param array<array-key, mixed> $values
     *
     * @return array<array-key, mixed>
     */
    private static function unescaped(array $values): array
    {
        $unescaped = [];
        foreach ($values as $key => $value) {
            $unescaped[is_string($key) ? self::unescape($key) : $key] = match (true) {
                is_array($value) => self::unescaped($value),
                is_string($value) => self::unescape($value),
                default => $value,
            };
        }

        return $unescaped;
    }

    private static function escape(string $text): string
    {
        return str_starts_with($text, self::PREFIX) || !mb_check_encoding($text, 'UTF-8')
            ? self::PREFIX.base64_encode($text)
            : $text;
    }

    private static function unescape(string $text): string
    {
        return str_starts_with($text, self::PREFIX)
            ? (string) base64_decode(substr($text, strlen(self::PREFIX)), true)
            : $text;
    }
}
