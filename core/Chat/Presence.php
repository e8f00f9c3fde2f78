<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

/** Whether the file of an attachment is where its row says it is. */
enum Presence: string
{
    case Present = 'present';
    /** The row names a file that is not there: the phone itself no longer has it. */
    case Missing = 'missing';
    /** The file is there and has no bytes. */
    case Empty = 'empty';
    /** The path leads out of the attachment folder; it is never followed. */
    case Refused = 'refused';

    public function hasFile(): bool
    {
        return self::Present === $this || self::Empty === $this;
    }
}
