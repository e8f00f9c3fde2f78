<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support\Vaults;

use Geschenk\Core\Archive\TagFiles;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\UnusableInput;

/** Tag files under the key of their vault. */
final readonly class SealedTagFiles implements TagFiles
{
    public function __construct(private string $folder, #[\SensitiveParameter] private string $key)
    {
    }

    public function get(string $name): ?string
    {
        $path = $this->path($name);
        if (!is_file($path)) {
            return null;
        }

        return Seal::open(Disk::contents($path), $this->key, $name)
            ?? throw UnusableInput::backupBroken('@backup', 'changed', 'seal');
    }

    public function put(string $name, string $text): void
    {
        Folder::make($this->folder);
        Disk::put($this->path($name), Seal::close($text, $this->key, $name));
    }

    public function keepOnly(array $names): void
    {
        $stay = array_map($this->path(...), $names);
        foreach (array_diff(glob($this->folder.'/*') ?: [], $stay) as $path) {
            Folder::remove($path);
        }
    }

    private function path(string $name): string
    {
        return $this->folder.'/'.hash_hmac('sha256', $name, $this->key);
    }
}
