<?php

declare(strict_types=1);

namespace Geschenk\Core\Seal;

use Geschenk\Core\Failure;

/** There is not as much memory as what has to be unsealed as a whole takes; on the disk it does not go open. */
final class MemoryLacks extends Failure
{
    public static function of(int $bytes): self
    {
        return new self('memory_lacks', ['needed_bytes' => $bytes]);
    }
}
