<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Import;

use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Progress;

/** Asks for the room that a phase says it takes, before the first byte of it is written. */
final readonly class RoomAhead implements Progress
{
    /** @param int $free bytes that there are */
    public function __construct(private Progress $progress, private int $free)
    {
    }

    public function phase(string $name, int $items = 0, int $bytes = 0): void
    {
        if ($this->free < $bytes) {
            throw DiskFull::lacks($bytes);
        }
        $this->progress->phase($name, $items, $bytes);
    }

    public function advance(int $items, int $bytes = 0): void
    {
        $this->progress->advance($items, $bytes);
    }
}
