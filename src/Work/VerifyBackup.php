<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

/** Has a worker read a kept backup back to the last byte. */
final readonly class VerifyBackup
{
    public function __construct(public string $id)
    {
    }
}
