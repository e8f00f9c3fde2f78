<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

/** A ready-made answer of the business edition. */
final readonly class CannedAnswer
{
    /** @param string $shortcut what is typed to get it */
    public function __construct(public string $shortcut, public string $text)
    {
    }
}
