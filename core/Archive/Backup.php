<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

use Geschenk\Core\Files\FolderFiles;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\ContentFiles;
use Geschenk\Core\Store\Schema;
use Geschenk\Core\UnusableInput;

/** A kept backup: a bag that holds the chats in our own form beside the files as they were on the phone. */
final readonly class Backup
{
    /** Below the bag's folder: what was pulled. */
    public const RAW = Bag::PAYLOAD.'/raw';

    public function __construct(public string $folder)
    {
    }

    public static function recognises(string $folder): bool
    {
        return Bag::recognises($folder);
    }

    /**
     * Reads it back from the disk to the last byte.
     *
     * @throws UnusableInput when anything of it is missing, changed or added
     */
    public function verify(): void
    {
        Bag::validate($this->folder);
    }

    /** @return array<string, string> the lines of bag-info.txt */
    public function info(): array
    {
        return Bag::info($this->folder);
    }

    public function chatsPath(): string
    {
        return self::chatsIn($this->folder);
    }

    /** Where the chats lie in a backup, or in one that is being made. */
    public static function chatsIn(string $folder): string
    {
        return $folder.'/'.Bag::PAYLOAD.'/'.Schema::FILE_NAME;
    }

    public function chats(): ChatStore
    {
        return new ChatStore($this->chatsPath());
    }

    /** @param bool $mayLink whether what is put elsewhere may be the same file: only where nobody writes into it */
    public function files(bool $mayLink = false): ContentFiles
    {
        return new ContentFiles(
            new FolderFiles($this->folder.'/'.self::RAW, mayLink: $mayLink), $this->chats(),
        );
    }
}
