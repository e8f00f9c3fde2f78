<?php

declare(strict_types=1);

namespace Geschenk\Tests\Crash;

/** A file or a folder, as programs see it and as it would be found after the power went. */
final class Node
{
    public string $kept = '';
    /** @var list<array{int, string|null}> writes at an offset, or with null a new size, since the last sync */
    public array $pending = [];
    /** @var array<string, Node> */
    public array $children = [];
    /** @var array<string, Node> */
    public array $keptChildren = [];

    public function __construct(public readonly bool $isFolder)
    {
    }

    public function sync(): void
    {
        $this->kept = $this->content(count($this->pending));
        $this->pending = [];
        $this->keptChildren = $this->children;
    }

    /** With all that is below it, as syncfs(2) does. */
    public function syncAll(): void
    {
        $this->sync();
        foreach ($this->children as $child) {
            $child->syncAll();
        }
    }

    /** @param int $writes how many of those that were not synced reached the disk, in their order */
    public function content(int $writes): string
    {
        $bytes = $this->kept;
        foreach (array_slice($this->pending, 0, $writes) as [$at, $piece]) {
            if (null === $piece) {
                $bytes = str_pad(substr($bytes, 0, $at), $at, "\0");
            } else {
                $bytes = substr_replace(str_pad($bytes, $at, "\0"), $piece, $at, strlen($piece));
            }
        }

        return $bytes;
    }
}
