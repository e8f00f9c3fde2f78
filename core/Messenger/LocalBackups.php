<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

use Geschenk\Core\UnusableInput;

/**
 * A storage format whose messenger makes backups of its own on the phone: a file that holds the chats as they were
 * then, locked or open, and attachments beside it as they lie beside the database.
 */
interface LocalBackups
{
    /**
     * Where such files lie, below the app's data folder; "*" stands for the name of one folder, an own one for each.
     *
     * @return non-empty-list<string>
     */
    public function localBackupPlaces(): array;

    /** The folder below the app's data folder in which nothing but such backups lies. */
    public function localBackupFolder(): string;

    /** Whether a file on this computer is one, judged by its first bytes. */
    public function isLocalBackup(string $path): bool;

    /** @param string $head first bytes of such a file, FileType::HEAD of them */
    public function lockOf(string $head): ?BackupLock;

    /** @param string $path of an attachment, as it lies beside the chats */
    public function isVideo(string $path): bool;

    /**
     * Opens such a file into a folder, as the database files of the format.
     *
     * @param BackupKey|null $key  for one that is locked
     * @param string|null    $name what errors call the file; its path where nothing else is said
     *
     * @throws UnusableInput when the key is missing or another one, the file is cut short, or a byte of it was changed
     */
    public function openLocalBackup(string $path, ?BackupKey $key, string $folder, ?string $name = null): void;
}
