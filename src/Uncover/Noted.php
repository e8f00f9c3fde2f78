<?php

declare(strict_types=1);

namespace Geschenk\App\Uncover;

/** What the log says of an uncovering: codes of translations/ under "log". */
final readonly class Noted
{
    /**
     * @param string                    $begins where it begins
     * @param string                    $ends   where it ends
     * @param array<string, string|int> $params of both
     */
    public function __construct(public string $begins, public string $ends, public array $params)
    {
    }
}
