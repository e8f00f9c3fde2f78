<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy;

/** A form that a program of this computer lays out: where that is missing, it is not offered. */
interface NeedsProgram
{
    public function isThere(): bool;
}
