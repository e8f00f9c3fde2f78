<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

/** What is meant to happen to a message on its way; in a store that a reader filled, all are `whole`. */
enum Fate: string
{
    case Whole = 'whole';
    case Changed = 'changed';
    case LeftOut = 'left_out';
}
