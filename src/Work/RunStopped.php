<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Geschenk\Core\Failure;

/** Somebody has stopped the run that a worker is at. */
final class RunStopped extends Failure
{
    public static function by(string $by): self
    {
        return new self('stopped', ['by' => $by]);
    }
}
