<?php

declare(strict_types=1);

namespace Geschenk\Core;

final class NoProgress implements Progress
{
    public function phase(string $name, int $items = 0, int $bytes = 0): void
    {
    }

    public function advance(int $items, int $bytes = 0): void
    {
    }
}
