<?php

declare(strict_types=1);

namespace Geschenk\Core;

/** Something that a person at the bench puts right: nothing is lost, and whoever was at work goes on behind it. */
abstract class Hindrance extends Failure
{
    /** Whether something stands in the way of it; not where it only makes room for others. */
    public function isSetback(): bool
    {
        return true;
    }
}
