<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

/** JSON for flat lists and maps whose strings may be any bytes: what is not UTF-8 travels as "base64:…". */
final class SafeJson
{
    private const PREFIX = 'base64:';

    /** @param array<array-key, scalar|null> $values */
    public static function encode(array $values): string
    {
        return json_encode(
            array_map(static fn (mixed $v): mixed => is_string($v) && (!mb_check_encoding($v, 'UTF-8') || str_starts_with($v, self::PREFIX)) ? self::PREFIX.base64_encode($v) : $v, $values),
            \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES | \JSON_PRESERVE_ZERO_FRACTION,
        );
    }

    /**
     * @return array<array-key, scalar|null> nested values are left out
     */
    public static function decode(?string $json): array
    {
        $values = null === $json ? [] : json_decode($json, true, 4);
        $flat = [];
        foreach (is_array($values) ? $values : [] as $key => $value) {
            if (is_string($value) && str_starts_with($value, self::PREFIX)) {
                $flat[$key] = (string) base64_decode(substr($value, strlen(self::PREFIX)), true);
            } elseif (null === $value || is_scalar($value)) {
                $flat[$key] = $value;
            }
        }

        return $flat;
    }

    /** @return array<string, scalar|null> */
    public static function map(?string $json): array
    {
        $map = [];
        foreach (self::decode($json) as $key => $value) {
            $map[(string) $key] = $value;
        }

        return $map;
    }
}
