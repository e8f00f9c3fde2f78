<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

/** What is meant to happen to a message on its way; in a store that a reader filled, all are `whole`. */
enum Fate: string
{
    case Whole = 'whole';
    case Changed = 'changed';
    case LeftOut = 'left_out';
    /** It arrives as copies in other conversations, and not in its own. */
    case Spread = 'spread';
    /** No message of the backup: a copy or a notice that the conversion makes. */
    case Added = 'added';
    /** No message of the backup: the receiving phone held it before, and keeps it. */
    case Kept = 'kept';

    /** Whether a writer puts it into the receiving format. */
    public function isWritten(): bool
    {
        return self::LeftOut !== $this && self::Spread !== $this;
    }
}
