<?php

declare(strict_types=1);

namespace Geschenk\Core\Seal;

use Geschenk\Core\Files\Content\Contents;
use Geschenk\Core\Files\Durable\Disk;

/** Files that belong together, of a folder that lies sealed: unsealed piece by piece, and nowhere put open. */
final readonly class SealedContents implements Contents
{
    /**
     * @param string                        $below what they are of begins with it
     * @param \Closure(): iterable<string> $paths of all that lie sealed there
     */
    public function __construct(private SealedFolder $folder, private string $below, private \Closure $paths)
    {
    }

    public function paths(): \Generator
    {
        foreach (($this->paths)() as $path) {
            if (str_starts_with($path, $this->below)) {
                yield substr($path, strlen($this->below));
            }
        }
    }

    public function bytes(string $path): ?int
    {
        return $this->folder->file($this->below.$path)->bytes();
    }

    public function sha256(string $path): string
    {
        $stream = $this->open($path);
        try {
            return Disk::sha256Of($stream, $path);
        } finally {
            fclose($stream);
        }
    }

    public function open(string $path): mixed
    {
        return $this->folder->file($this->below.$path)->open();
    }
}
