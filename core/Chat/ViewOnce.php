<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

/** A message that may be looked at a single time. */
enum ViewOnce: string
{
    case Unopened = 'unopened';
    case Opened = 'opened';
}
