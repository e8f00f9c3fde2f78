<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Seal\DataKey;
use Geschenk\Core\Seal\Seal;

/** Tag files under the key of their backup, each in a file whose name tells nothing. */
final readonly class SealedTagFiles implements TagFiles
{
    /** What all their folders begin with. */
    public const FOLDER = 'tags-';

    /**
     * @param string             $bag    folder of the sealed bag
     * @param string             $folder name of theirs
     * @param \Closure(): DataKey $key   asked for where one is there or put there
     */
    public function __construct(private string $bag, private string $folder, private \Closure $key)
    {
    }

    public function get(string $name): ?string
    {
        if (!is_dir($this->bag)) {
            return null;
        }
        $key = ($this->key)();
        $path = $this->path($key, $name);

        return is_file($path) ? Seal::open(Disk::contents($path), $key->ofText(), $this->of($name)) : null;
    }

    public function put(string $name, string $text): void
    {
        $key = ($this->key)();
        $path = $this->path($key, $name);
        Folder::make(dirname($path));
        Disk::put($path, Seal::close($text, $key->ofText(), $this->of($name)));
        Disk::sync($this->bag);
    }

    public function keepOnly(array $names): void
    {
        if (!is_dir($this->bag)) {
            return;
        }
        $key = ($this->key)();
        $stay = array_map(fn (string $name): string => $this->path($key, $name), $names);
        foreach (array_diff(glob(dirname($this->path($key, '')).'/*') ?: [], $stay) as $path) {
            Folder::remove($path);
        }
    }

    private function of(string $name): string
    {
        return 'tag file '.$this->folder.'/'.$name;
    }

    private function path(DataKey $key, string $name): string
    {
        return $this->bag.'/'.self::FOLDER.$key->nameOf($this->of('')).'/'.$key->nameOf($this->of($name));
    }
}
