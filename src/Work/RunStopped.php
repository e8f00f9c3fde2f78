<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

/** Somebody wants the run that a worker is at to rest, or to be undone. */
final class RunStopped extends \RuntimeException
{
}
