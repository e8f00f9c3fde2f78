<?php

declare(strict_types=1);

namespace Geschenk\App\Files;

use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\MemoryFolder;

/**
 * Where something lies open for a while, each under its id: in memory, so that it comes onto no disk of the shop; what
 * is too large for that in the data folder. What was in memory when the power went is gone.
 */
abstract readonly class MemoryFirst
{
    /** Bytes of one that is in memory, and times as much that has to be free there: others want some of it. */
    private const SMALL = 500_000_000;
    private const FREE = 4;

    private MemoryFolder $memory;

    /**
     * @param string $memory folder that is in memory
     * @param string $what   lies there, as names have it
     * @param string $disk   folder of those that are too large
     */
    public function __construct(string $memory, string $what, private string $disk)
    {
        $this->memory = new MemoryFolder($memory, $what, $disk);
    }

    /**
     * @param int $bytes that are put there, about
     *
     * @return string a folder that is there; the same one for as long as anything lies in it
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function of(string $id, int $bytes): string
    {
        $there = $this->find($id);
        if (null !== $there) {
            return $there;
        }
        if ($bytes <= self::SMALL) {
            $this->memory->make();
            if ($this->memory->isOurs() && self::FREE * $bytes <= (int) @disk_free_space($this->memory->path)) {
                return Folder::make($this->memory->path.'/'.$id);
            }
        }

        return Folder::make($this->disk.'/'.$id);
    }

    /**
     * Does something in one. Where more comes of it than memory has for it, it is done anew on the disk.
     *
     * @template T
     *
     * @param int                  $bytes that are put there, about
     * @param \Closure(string): T $work  is told the folder
     *
     * @return T
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function workIn(string $id, int $bytes, \Closure $work): mixed
    {
        $place = $this->of($id, $bytes);
        try {
            return $work($place);
        } catch (\Exception $error) {
            if (!DiskFull::isMeantBy($error) || !$this->isInMemory($place)) {
                throw $error;
            }
        }
        $this->discard($id);

        return $work($this->of($id, \PHP_INT_MAX));
    }

    /** @return string|null null where nothing of it lies anywhere */
    public function find(string $id): ?string
    {
        foreach ($this->folders() as $folder) {
            if (is_dir($folder.'/'.$id)) {
                return $folder.'/'.$id;
            }
        }

        return null;
    }

    /** @return int bytes that may still be put into one: of memory, no more than others can spare */
    public function roomIn(string $place): int
    {
        $free = (int) @disk_free_space($place);

        return $this->isInMemory($place) ? min(self::SMALL, intdiv($free, self::FREE)) : $free;
    }

    public function isInMemory(string $place): bool
    {
        return dirname($place) === $this->memory->path;
    }

    /** @return list<string> of what lies there */
    public function ids(): array
    {
        $ids = [];
        foreach ($this->folders() as $folder) {
            $ids = [...$ids, ...array_map(basename(...), glob($folder.'/*', \GLOB_ONLYDIR) ?: [])];
        }

        return $ids;
    }

    /**
     * @return int bytes of its files
     *
     * @throws DiskFailure
     */
    public function discard(string $id): int
    {
        $bytes = 0;
        foreach ($this->folders() as $folder) {
            $bytes += Folder::discard($folder.'/'.$id);
        }

        return $bytes;
    }

    /** @return list<string> */
    private function folders(): array
    {
        return [...($this->memory->isOurs() ? [$this->memory->path] : []), $this->disk];
    }
}
