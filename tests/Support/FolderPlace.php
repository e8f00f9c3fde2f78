<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\SecondPlace\Place;
use Geschenk\Core\SecondPlace\PlaceFailure;

/** A folder as a place that breaks off when told, with what was on its way left there cut short. */
final class FolderPlace implements Place
{
    /** Bytes that still arrive; null for all. */
    public ?int $left = null;
    /** Whether it tells of what is there the last first. */
    public bool $isTurned = false;
    /** @var list<string> what was put there */
    public array $put = [];
    /** @var list<string> what was read from there */
    public array $read = [];

    public function __construct(public readonly string $folder)
    {
        Folder::make($folder);
    }

    public function label(): string
    {
        return 'shelf';
    }

    public function ensureThere(): void
    {
        is_dir($this->folder) ?: throw PlaceFailure::gone('shelf');
    }

    public function files(string $folder): array
    {
        $files = [];
        foreach ($this->in($folder) as $path) {
            is_file($path) ? $files[basename($path)] = (int) filesize($path) : null;
        }

        return $files;
    }

    public function folders(string $folder): array
    {
        return array_values(array_map(basename(...), array_filter($this->in($folder), is_dir(...))));
    }

    public function put(string $path, mixed $content): void
    {
        Folder::make(dirname($this->folder.'/'.$path));
        $bytes = (string) stream_get_contents($content);
        $arrives = null === $this->left ? $bytes : substr($bytes, 0, $this->left);
        file_put_contents($this->folder.'/'.$path, $arrives);
        $this->left = null === $this->left ? null : $this->left - strlen($arrives);
        strlen($arrives) === strlen($bytes) ?: throw PlaceFailure::gone('shelf');
        $this->put[] = $path;
    }

    public function open(string $path): mixed
    {
        $this->read[] = $path;
        $stream = @fopen($this->folder.'/'.$path, 'r');

        return false === $stream ? throw PlaceFailure::at('shelf', 'read', $path) : $stream;
    }

    public function remove(string $path): void
    {
        @unlink($this->folder.'/'.$path);
    }

    public function removeFolder(string $path): void
    {
        Folder::discard($this->folder.'/'.$path);
    }

    public function isOnDiskOf(string $folder): bool
    {
        return true;
    }

    /** @return list<string> paths of all files there */
    public function all(): array
    {
        return iterator_to_array(Folder::files($this->folder), false);
    }

    /** @return list<string> */
    private function in(string $folder): array
    {
        clearstatcache();

        $there = glob($this->folder.'/'.$folder.'/*') ?: [];

        return $this->isTurned ? array_reverse($there) : $there;
    }
}
