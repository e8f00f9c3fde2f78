<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Geschenk\Core\Progress;

/** A safety copy within a longer run: all its phases are one. */
final readonly class SafetyProgress implements Progress
{
    public function __construct(private Progress $progress)
    {
    }

    public function phase(string $name, int $items = 0, int $bytes = 0): void
    {
        $this->progress->phase('safety_copy', $items, $bytes);
    }

    public function advance(int $items, int $bytes = 0): void
    {
        $this->progress->advance($items, $bytes);
    }
}
