<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Messenger\Capabilities;

/** Details that travel without being understood. */
final class Opaque
{
    /**
     * Whether some of the details belong to another format than the target's.
     *
     * @param array<string, scalar|null> $opaque
     */
    public static function isForeignTo(Capabilities $target, array $opaque): bool
    {
        foreach ($opaque as $name => $_) {
            if (!str_starts_with($name, $target->detailPrefix)) {
                return true;
            }
        }

        return false;
    }
}
