<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

use Geschenk\Core\Files\Content\Contents;
use Geschenk\Core\Files\Content\FolderContents;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\ContentFiles;

/** A backup that lies open, as a bag in a folder. */
final readonly class OpenBag implements OpenBackup
{
    private Workplace $bag;

    /** @param string $folder of the bag */
    public function __construct(private string $folder)
    {
        $this->bag = new Workplace($folder);
    }

    public function info(): array
    {
        return Bag::info($this->folder);
    }

    public function chats(): ChatStore
    {
        return new ChatStore($this->bag->chats());
    }

    public function files(bool $mayLink = false): ContentFiles
    {
        return new ContentFiles(new FolderFiles($this->bag->raw(), mayLink: $mayLink), $this->chats());
    }

    public function fingerprint(): string
    {
        return Disk::sha256($this->folder.'/'.Bag::MANIFEST);
    }

    public function raw(): Contents
    {
        return new FolderContents($this->bag->raw());
    }
}
