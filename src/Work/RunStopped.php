<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

/** Somebody has stopped the run that a worker is at. */
final class RunStopped extends \RuntimeException
{
    public function __construct(public readonly string $by)
    {
        parent::__construct(sprintf('Stopped by %s. Go on from where it was, or leave it.', $by));
    }
}
