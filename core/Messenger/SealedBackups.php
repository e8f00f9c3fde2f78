<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

use Geschenk\Core\UnusableInput;

/** A storage format whose messenger also makes backups under a key. */
interface SealedBackups
{
    /** Name of the sealed file in the data folder. */
    public function sealedFile(): string;

    public function isSealed(string $path): bool;

    /**
     * Opens a sealed file into a folder, as the database files of the format.
     *
     * @param string|null $name what errors call the file; its path where nothing else is said
     *
     * @throws UnusableInput when the key is another one, the file is cut short, or a byte of it was changed
     */
    public function unseal(string $path, BackupKey $key, string $folder, ?string $name = null): void;
}
