<?php

declare(strict_types=1);

namespace Geschenk\Core\Files;

/** A folder for throw-away copies, readable by this user alone, gone when the object is. */
final class ScratchFolder
{
    private function __construct(public readonly string $path)
    {
    }

    public static function make(): self
    {
        $path = sys_get_temp_dir().'/geschenk-'.bin2hex(random_bytes(8));
        if (!mkdir($path, 0o700)) {
            throw new \RuntimeException(sprintf('No scratch folder could be made at %s.', $path));
        }

        return new self($path);
    }

    public function remove(): void
    {
        Folder::remove($this->path);
    }

    public function __destruct()
    {
        $this->remove();
    }
}
