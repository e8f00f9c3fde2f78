<?php

declare(strict_types=1);

namespace Geschenk\Core;

/** Told by long work how far it is. Whoever listens may throw to stop the work between two steps. */
interface Progress
{
    /**
     * A new part of the work begins.
     *
     * @param string $name  one of the words of docs/interface.md, for instance "pulling"
     * @param int    $items how many there will be; 0 when nobody knows
     * @param int    $bytes how many there will be; 0 when nobody knows
     */
    public function phase(string $name, int $items = 0, int $bytes = 0): void;

    public function advance(int $items, int $bytes = 0): void;
}
