<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Zip\UnusableZip;
use Geschenk\Core\Progress;
use Geschenk\Core\UnusableInput;

/** Reads what came from somebody else. The application reads in a process of its own, ReadingApart. */
interface ChatReading
{
    /**
     * Finds out of which format a data folder is and reads all its chats into a new chat store.
     *
     * @param string          $folder holds the database files; they are not changed
     * @param AttachmentFiles $files  holds the attachments, here or elsewhere
     * @param string          $store  path of the store; appears when it is complete
     * @param string|null     $name   what errors call the folder; its path where nothing else is said
     *
     * @throws UnusableInput
     * @throws DiskFull
     */
    public function read(
        string $folder,
        AttachmentFiles $files,
        string $store,
        Progress $progress,
        ?string $name = null,
    ): Format;

    /**
     * Opens a messenger's own backup into a folder, as the database files of its format.
     *
     * @param BackupKey|null $key  for one that is locked
     * @param string|null    $name what errors call the file; its path where nothing else is said
     *
     * @throws UnusableInput when the key is missing or another one, the file is cut short, or a byte of it was changed
     * @throws DiskFull
     */
    public function unpack(string $path, ?BackupKey $key, string $folder, ?string $name = null): void;

    /**
     * Takes over a chat store, or chats as JSON Lines, that were made elsewhere: rows, and nothing else that may be in
     * the file.
     *
     * @param string      $store path of the new store
     * @param string|null $name  what errors call the file; its path where nothing else is said
     *
     * @throws UnusableInput
     * @throws DiskFull
     */
    public function takeOver(string $path, string $store, Progress $progress, ?string $name = null): void;

    /**
     * Lists the messengers' files of a computer's backup of a whole phone.
     *
     * @param BackupKey|null $key  for one that is locked
     * @param string         $list path of the list (WholePhone\PhoneFiles); appears when it is complete
     * @param string|null    $name what errors call the folder; its path where nothing else is said
     *
     * @throws UnusableInput
     * @throws DiskFull
     */
    public function listPhone(
        string $folder,
        ?BackupKey $key,
        string $list,
        Progress $progress,
        ?string $name = null,
    ): void;

    /**
     * Unpacks a ZIP: all of it, or nothing. How much it promises is told to the progress before the first file.
     *
     * @param string      $folder that is not there yet
     * @param string|null $name   what errors call it; its path where nothing else is said
     *
     * @throws UnusableZip
     * @throws DiskFull
     */
    public function unzip(
        string $path,
        #[\SensitiveParameter] ?string $password,
        string $folder,
        Progress $progress,
        ?string $name = null,
    ): void;
}
