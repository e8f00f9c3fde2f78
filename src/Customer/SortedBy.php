<?php

declare(strict_types=1);

namespace Geschenk\App\Customer;

/** What the cupboard is sorted by. */
enum SortedBy: string
{
    case Taken = 'taken';
    case Newest = 'newest';
    case Customer = 'customer';
    case Bytes = 'bytes';
    case Until = 'until';

    /** In SQL over a backup b, its tray t and its customer c. */
    public function expression(): string
    {
        return [
            'taken' => 'b.counter',
            'newest' => 'b.newest_at',
            'customer' => 'LOWER(c.name)',
            'bytes' => 'b.attachment_bytes',
            // What has no day yet goes behind all that has.
            'until' => "COALESCE(b.keep_until, t.keep_until, '9999')",
        ][$this->value];
    }
}
