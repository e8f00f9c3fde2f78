<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

/** One of the ways in which something can go across that the receiving format can't hold as it is. */
final readonly class Choice
{
    /** @param string $key in snake_case, the same in API and command line */
    public function __construct(public string $key, public Outcome $outcome)
    {
    }
}
