<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;

/** Tag files that lie open in a folder of their bag. */
final readonly class FolderTagFiles implements TagFiles
{
    /**
     * @param string $bag    folder of the bag
     * @param string $folder name of the one in it
     */
    public function __construct(private string $bag, private string $folder)
    {
    }

    public function get(string $name): ?string
    {
        $path = $this->path($name);

        return is_file($path) ? Disk::contents($path) : null;
    }

    public function put(string $name, string $text): void
    {
        Folder::make($this->bag.'/'.$this->folder);
        Disk::put($this->path($name), $text);
        Disk::sync($this->bag);
    }

    public function keepOnly(array $names): void
    {
        foreach (glob($this->path('*')) ?: [] as $path) {
            if (!in_array(basename($path), $names, true)) {
                Folder::remove($path);
            }
        }
    }

    private function path(string $name): string
    {
        return $this->bag.'/'.$this->folder.'/'.$name;
    }
}
