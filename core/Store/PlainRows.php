<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

/** How SQL finds the plain messages of a foreign database: what BulkFill puts its statements together from. */
final readonly class PlainRows
{
    /**
     * @param string $columns of a message: identity, wire id to receipts and `details`
     * @param string $joins   what `temp.ordering o` is joined with for them
     * @param string $where   the condition for being plain
     */
    public function __construct(public string $columns, public string $joins, public string $where)
    {
    }
}
