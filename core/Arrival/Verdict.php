<?php

declare(strict_types=1);

namespace Geschenk\Core\Arrival;

/** What a row of the arrival check says of a conversation; the first that applies, from the top. */
enum Verdict: string
{
    /** Something that was meant to arrive is not there, whole or in part. */
    case Missing = 'missing';
    /** There is more than expected. */
    case Extra = 'extra';
    /** All is there, some of it changed by a listed loss. */
    case Changed = 'changed';
    /** All of it stayed behind on purpose. */
    case LeftOut = 'left_out';
    case Arrived = 'arrived';
}
