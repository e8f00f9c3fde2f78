<?php

declare(strict_types=1);

namespace Geschenk\Standin\Stick;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Stick\Sticks;
use Geschenk\Standin\Demo\HomeComputer;

/** All stand-in sticks, put in or not: the folders below one folder. */
final readonly class Drawer implements Sticks
{
    public function __construct(private string $folder)
    {
    }

    /**
     * Those of the demonstration, where none are there yet.
     *
     * @param callable(string): void $say told what is being made
     */
    public function fill(callable $say): void
    {
        if ([] === $this->all()) {
            FolderStick::make($this->folder.'/grey-stick', 'Grey stick', 16_000_000_000, true);
            FolderStick::make($this->folder.'/old-stick', 'Old stick', 2_000_000, false);
            $marens = FolderStick::make(
                $this->folder.'/marens-stick', 'Maren’s stick', 4_000_000_000, false, HomeComputer::SAID,
            );
            HomeComputer::make($marens->content(), $say);
        }
    }

    /** @return list<FolderStick> */
    public function all(): array
    {
        $sticks = [];
        foreach (glob($this->folder.'/*/'.FolderStick::FILE) ?: [] as $file) {
            $sticks[] = new FolderStick(dirname($file));
        }

        return $sticks;
    }

    public function there(): array
    {
        return array_values(array_filter($this->all(), static fn (FolderStick $stick): bool => $stick->isThere()));
    }

    public function find(string $id): ?FolderStick
    {
        $isId = 1 === preg_match('/^[a-z0-9-]{1,80}$/D', $id);

        return $isId && is_file($this->folder.'/'.$id.'/'.FolderStick::FILE)
            ? new FolderStick($this->folder.'/'.$id)
            : null;
    }
}
