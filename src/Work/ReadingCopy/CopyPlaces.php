<?php

declare(strict_types=1);

namespace Geschenk\App\Work\ReadingCopy;

use Geschenk\App\DataFolder;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\MemoryFolder;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/**
 * Where a copy for reading is made and waits for its stick: in memory, so that what lies open in it comes onto no disk
 * of the shop; one that is too large for that in the data folder. What was in memory when the power went is made anew.
 */
final readonly class CopyPlaces
{
    /** Bytes of one that is in memory, and times as much that has to be free there: others want some of it. */
    private const SMALL = 500_000_000;
    private const FREE = 4;

    private MemoryFolder $memory;

    /** @param string $memory folder that is in memory */
    public function __construct(private DataFolder $data, #[Autowire('%env(GESCHENK_MEMORY)%')] string $memory)
    {
        $this->memory = new MemoryFolder($memory, 'reading', $data->readingCopies());
    }

    /**
     * @param string $id    of its run
     * @param int    $bytes that are put there, about
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

        return Folder::make($this->data->readingCopies().'/'.$id);
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

    public function isInMemory(string $place): bool
    {
        return dirname($place) === $this->memory->path;
    }

    /** @return list<string> of runs */
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
        return [...($this->memory->isOurs() ? [$this->memory->path] : []), $this->data->readingCopies()];
    }
}
