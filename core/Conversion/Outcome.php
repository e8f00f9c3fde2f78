<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

/** What a rule does to what it touches. */
enum Outcome: string
{
    /** It goes across in a changed form, or without a part. */
    case Changed = 'changed';
    /** It stays in the backup. */
    case LeftOut = 'left_out';
    /** It stays in the backup, and a notice on the receiving side says so. */
    case Noticed = 'noticed';
    /** It goes across as copies in the conversations of those it was sent to. */
    case Spread = 'spread';
}
