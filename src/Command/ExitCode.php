<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

/** Beside those of Symfony; docs/cli.md has all of them. */
final class ExitCode
{
    /** Done, and not all of what is there could be read. */
    public const NOT_ALL_READ = 3;
}
