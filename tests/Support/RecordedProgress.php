<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support;

use Geschenk\Core\Progress;

/** Remembers what it was told. */
final class RecordedProgress implements Progress
{
    /**
     * @var array<string, array{
     *     int, int, int, int,
     * }> by phase: items and bytes there would be, items and bytes that were done
     */
    public array $phases = [];
    private string $phase = '';

    public function phase(string $name, int $items = 0, int $bytes = 0): void
    {
        $this->phase = $name;
        $this->phases[$name] = [$items, $bytes, 0, 0];
    }

    public function advance(int $items, int $bytes = 0): void
    {
        [$ofItems, $ofBytes, $doneItems, $doneBytes] = $this->phases[$this->phase] ?? [0, 0, 0, 0];
        $this->phases[$this->phase] = [$ofItems, $ofBytes, $doneItems + $items, $doneBytes + $bytes];
    }
}
