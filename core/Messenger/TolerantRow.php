<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

use Geschenk\Core\Chat\Times;
use Geschenk\Core\Sqlite\Row;
use Geschenk\Core\Sqlite\UnexpectedValue;
use Geschenk\Core\Store\StoreWriter;

/**
 * A row of a foreign table, read by type. A value that can't be used costs itself: it is listed, and read as absent.
 */
final readonly class TolerantRow
{
    private Row $row;

    /**
     * @param string                  $table  what the list calls it
     * @param array<array-key, mixed> $values by column
     */
    public function __construct(private StoreWriter $store, private string $table, array $values)
    {
        $this->row = new Row($values);
    }

    /** @param int $else where there is no whole number, which is listed */
    public function int(string $column, int $else = 0): int
    {
        return $this->nullableInt($column) ?? $this->absent($column, $else);
    }

    public function nullableInt(string $column): ?int
    {
        // What nearly every value is; this runs for each of every message.
        $value = $this->row->values[$column] ?? null;
        if (null === $value || is_int($value)) {
            return $value;
        }

        return $this->attempt($column, fn (): ?int => $this->row->nullableInt($column));
    }

    /** @return int|null milliseconds since 1970 UTC; null where there is none that any calendar has */
    public function time(string $column): ?int
    {
        $value = $this->row->values[$column] ?? null;
        if (null === $value || (is_int($value) && Times::areTimes($value))) {
            return $value;
        }

        return $this->attempt($column, function () use ($column): ?int {
            $time = $this->row->nullableInt($column);

            return Times::areTimes($time) ? $time : throw UnexpectedValue::in($column, $time, 'a time');
        });
    }

    /** @return float|null a finite number */
    public function nullableFloat(string $column): ?float
    {
        $number = $this->row->values[$column] ?? null;
        if (null === $number || (is_float($number) && is_finite($number))) {
            return $number;
        }

        return $this->attempt($column, function () use ($column): ?float {
            $number = $this->row->nullableFloat($column);

            return null === $number || is_finite($number)
                ? $number
                : throw UnexpectedValue::in($column, $number, 'a finite number');
        });
    }

    /** @param string $else where there is no text, which is listed */
    public function text(string $column, string $else = ''): string
    {
        return $this->row->nullableText($column) ?? $this->absent($column, $else);
    }

    public function nullableText(string $column): ?string
    {
        return $this->row->nullableText($column);
    }

    public function isNull(string $column): bool
    {
        return null === ($this->row->values[$column] ?? null);
    }

    public function bool(string $column): bool
    {
        return 0 !== ($this->nullableInt($column) ?? 0);
    }

    /**
     * @template T
     *
     * @param callable(): T $make
     *
     * @return T|null null when the value can't be used, which is listed
     */
    public function attempt(string $column, callable $make): mixed
    {
        try {
            return $make();
        } catch (\UnexpectedValueException|\TypeError|\ValueError) {
            $value = $this->row->values[$column] ?? null;
            $this->store->finding(
                'value_unreadable', $this->table.'.'.$column,
                is_scalar($value) ? mb_substr(mb_scrub(substr((string) $value, 0, 240)), 0, 60) : null,
            );

            return null;
        }
    }

    /**
     * @template T
     *
     * @param T $else
     *
     * @return T
     */
    private function absent(string $column, mixed $else): mixed
    {
        if (null === ($this->row->values[$column] ?? null)) {
            $this->store->finding('value_absent', $this->table.'.'.$column);
        }

        return $else;
    }
}
