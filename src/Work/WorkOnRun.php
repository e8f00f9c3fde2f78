<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

/** Tells a worker to take up a run, or to go on with it. */
final readonly class WorkOnRun
{
    public function __construct(public string $runId)
    {
    }
}
