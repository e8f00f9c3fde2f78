<?php

declare(strict_types=1);

namespace Geschenk\App;

use Geschenk\Core\Failure;

/** Somebody asked for something that can't be done now; nothing was changed. */
final class Refusal extends Failure
{
    /** @param array<string, string|int> $fields */
    public static function because(string $reason, array $fields = []): self
    {
        return new self($reason, $fields);
    }
}
