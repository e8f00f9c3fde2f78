<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Content;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;

/** Files that lie open in a folder. Links are not followed. */
final readonly class FolderContents implements Contents
{
    public function __construct(private string $folder)
    {
    }

    public function paths(): \Generator
    {
        yield from Folder::files($this->folder);
    }

    public function bytes(string $path): ?int
    {
        clearstatcache(true, $this->folder.'/'.$path);
        $bytes = Folder::hasPlain($this->folder, $path) ? @filesize($this->folder.'/'.$path) : false;

        return false === $bytes ? null : $bytes;
    }

    public function sha256(string $path): string
    {
        return Disk::sha256($this->folder.'/'.$path);
    }

    public function open(string $path): mixed
    {
        return Disk::open($this->folder.'/'.$path, 'r');
    }
}
