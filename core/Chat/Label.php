<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

/** A label that the business edition puts on conversations. */
final readonly class Label
{
    /** @param int $tint number of the colour in the messenger's own list */
    public function __construct(public string $name, public int $tint)
    {
    }
}
