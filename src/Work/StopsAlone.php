<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Geschenk\Core\Progress;

/** One of many that are counted: whoever has it stopped is heard, and its own steps are told to nobody. */
final readonly class StopsAlone implements Progress
{
    public function __construct(private Progress $progress)
    {
    }

    public function phase(string $name, int $items = 0, int $bytes = 0): void
    {
    }

    public function advance(int $items, int $bytes = 0): void
    {
        $this->progress->advance(0);
    }
}
