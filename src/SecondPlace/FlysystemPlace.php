<?php

declare(strict_types=1);

namespace Geschenk\App\SecondPlace;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\SecondPlace\Place;
use Geschenk\Core\SecondPlace\PlaceFailure;
use League\Flysystem\FileAttributes;
use League\Flysystem\FilesystemException;
use League\Flysystem\FilesystemOperator;
use League\Flysystem\StorageAttributes;
use League\Flysystem\UnableToListContents;
use League\Flysystem\UnableToReadFile;

/** Whatever Flysystem has an adapter for. */
final readonly class FlysystemPlace implements Place
{
    /** Files of one folder that are listed: whoever tells of more makes them up. */
    private const MOST = 1_000_000;

    /** @param string|null $disk full path of its folder, where it is one on a disk of this computer */
    public function __construct(
        private FilesystemOperator $files,
        private string $label,
        private ?string $disk = null,
    ) {
    }

    public function label(): string
    {
        return $this->label;
    }

    public function ensureThere(): void
    {
        if (null !== $this->disk) {
            clearstatcache();
            is_dir($this->disk) ?: throw PlaceFailure::gone($this->label);

            return;
        }
        try {
            foreach ($this->files->listContents('') as $_) {
                break;
            }
        } catch (FilesystemException|\RuntimeException $failure) {
            throw PlaceFailure::gone($this->label, $failure);
        }
    }

    public function files(string $folder): array
    {
        $files = [];
        foreach ($this->listed($folder) as $one) {
            if ($one instanceof FileAttributes) {
                $files[basename($one->path())] = $one->fileSize() ?? 0;
            }
        }
        ksort($files);

        return $files;
    }

    public function folders(string $folder): array
    {
        $folders = [];
        foreach ($this->listed($folder) as $one) {
            $one->isFile() ?: $folders[] = basename($one->path());
        }

        sort($folders);

        return $folders;
    }

    public function put(string $path, mixed $content): void
    {
        $this->does('write', $path, fn () => $this->files->writeStream($path, $content));
        if (null !== $this->disk) {
            Disk::sync($this->disk.'/'.$path);
            Disk::sync(dirname($this->disk.'/'.$path));
        }
    }

    public function open(string $path): mixed
    {
        return $this->does('read', $path, fn () => $this->files->readStream($path));
    }

    public function remove(string $path): void
    {
        $this->does('remove', $path, fn () => $this->files->delete($path));
    }

    public function removeFolder(string $path): void
    {
        $this->does('remove', $path, fn () => $this->files->deleteDirectory($path));
    }

    public function isOnDiskOf(string $folder): bool
    {
        $here = @stat($folder);
        $there = null === $this->disk ? false : @stat($this->disk);

        return false !== $here && false !== $there && $here['dev'] === $there['dev'];
    }

    /** @return list<StorageAttributes> */
    private function listed(string $folder): array
    {
        return $this->does('list', $folder, function () use ($folder): array {
            $listed = [];
            foreach ($this->files->listContents($folder) as $one) {
                $listed[] = $one;
                if (count($listed) > self::MOST) {
                    throw UnableToListContents::atLocation($folder, false, new \LengthException());
                }
            }

            return $listed;
        });
    }

    /**
     * @template T
     *
     * @param callable(): T $work
     *
     * @return T
     *
     * @throws PlaceFailure
     */
    private function does(string $act, string $path, callable $work): mixed
    {
        null === $this->disk ?: $this->ensureThere();
        try {
            return $work();
        } catch (FilesystemException|\RuntimeException $failure) {
            // Not every adapter names each failure of the library that it uses. That a file is missing and that nobody
            // answers are told apart by whether anybody does.
            $failure instanceof UnableToReadFile ? $this->ensureThere() : null;
            throw PlaceFailure::at($this->label, $act, $path, $failure);
        }
    }
}
