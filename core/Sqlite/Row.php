<?php

declare(strict_types=1);

namespace Geschenk\Core\Sqlite;

/** One row of a result, read by type. SQLite columns hold any type, so each getter checks what it finds. */
final readonly class Row
{
    /** @param array<array-key, mixed> $values */
    public function __construct(public array $values)
    {
    }

    /** @throws UnexpectedValue if the column holds no whole number */
    public function int(string $column): int
    {
        return $this->nullableInt($column) ?? throw UnexpectedValue::in($column, null, 'a whole number');
    }

    /** @throws UnexpectedValue */
    public function nullableInt(string $column): ?int
    {
        $value = $this->values[$column] ?? null;
        if (null === $value || is_int($value)) {
            return $value;
        }
        if (is_float($value) && floor($value) === $value && abs($value) < 9.0e15) {
            return (int) $value;
        }
        if (is_string($value) && 1 === preg_match('/^-?\d{1,18}$/', $value)) {
            return (int) $value;
        }
        throw UnexpectedValue::in($column, $value, 'a whole number');
    }

    /** @throws UnexpectedValue */
    public function nullableFloat(string $column): ?float
    {
        $value = $this->values[$column] ?? null;
        if (null === $value) {
            return null;
        }
        if (is_int($value) || is_float($value)) {
            return (float) $value;
        }
        throw UnexpectedValue::in($column, $value, 'a number');
    }

    /** @throws UnexpectedValue if the column is NULL */
    public function text(string $column): string
    {
        return $this->nullableText($column) ?? throw UnexpectedValue::in($column, null, 'text');
    }

    public function nullableText(string $column): ?string
    {
        $value = $this->values[$column] ?? null;

        return is_scalar($value) ? (string) $value : null;
    }

    /** @throws UnexpectedValue */
    public function bool(string $column): bool
    {
        return 0 !== ($this->nullableInt($column) ?? 0);
    }
}
