<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Progress;

/** Keeps each backup as a bag that lies open in a folder of its id. */
final readonly class PlainVault implements Vault
{
    private const BEGUN = '.part';

    public function __construct(private string $folder)
    {
    }

    public function workplace(string $id): Workplace
    {
        $place = new Workplace($this->bag($id).self::BEGUN);
        Folder::make($place->raw());
        Disk::sync($this->folder);

        return $place;
    }

    public function isKept(string $id): bool
    {
        return is_dir($this->bag($id));
    }

    public function keep(string $id, Progress $progress = new NoProgress()): void
    {
        // What is called kept was read back from the disk.
        Bag::validate($this->bag($id).self::BEGUN);
        Disk::move($this->bag($id).self::BEGUN, $this->bag($id));
    }

    public function verify(string $id, Progress $progress = new NoProgress()): void
    {
        Bag::validate($this->bag($id), $progress);
    }

    public function open(string $id): OpenBackup
    {
        return new OpenBag($this->bag($id));
    }

    public function tagFiles(string $id, string $name): TagFiles
    {
        return new FolderTagFiles($this->bag($id), $name);
    }

    public function places(string $id): array
    {
        return [$this->bag($id), $this->bag($id).self::BEGUN];
    }

    public function discard(string $id): int
    {
        return Folder::discard($this->bag($id)) + $this->discardBegun($id);
    }

    public function discardBegun(string $id): int
    {
        return Folder::discard($this->bag($id).self::BEGUN);
    }

    public function sync(): void
    {
        Disk::sync(Folder::make($this->folder));
    }

    public function freeBytes(): ?int
    {
        $free = disk_free_space(Folder::make($this->folder));

        return false === $free ? null : (int) $free;
    }

    private function bag(string $id): string
    {
        return $this->folder.'/'.$id;
    }
}
