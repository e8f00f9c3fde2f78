<?php

declare(strict_types=1);

namespace Geschenk\Core\ReadingCopy;

/** Files of a backup that it does not hold any more as they were kept: each costs itself, and is listed. */
final class Spoilt
{
    /** @var array<string, true> by the paths that they would have had in the copy */
    private array $paths = [];

    public function note(string $path): void
    {
        $this->paths[$path] = true;
    }

    public function has(string $path): bool
    {
        return isset($this->paths[$path]);
    }

    public function count(): int
    {
        return count($this->paths);
    }

    /** @return list<string> */
    public function paths(): array
    {
        return array_keys($this->paths);
    }
}
