<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

/** A file that was pulled, as it is here now. */
final readonly class Pulled
{
    /**
     * @param int  $bytes   that came
     * @param int  $listed  that the phone lists
     * @param bool $isWhole false where the phone can't read the rest
     */
    public function __construct(public int $bytes, public int $listed, public string $sha256, public bool $isWhole)
    {
    }
}
