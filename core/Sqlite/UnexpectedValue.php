<?php

declare(strict_types=1);

namespace Geschenk\Core\Sqlite;

/** A column holds something of another type than its table promises. */
final class UnexpectedValue extends \UnexpectedValueException
{
    public static function in(string $column, mixed $found, string $wanted): self
    {
        return new self(sprintf('Column %s holds %s where %s belongs.', $column, get_debug_type($found), $wanted));
    }
}
