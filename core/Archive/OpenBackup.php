<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\ContentFiles;
use Geschenk\Core\UnusableInput;

/**
 * A backup that was opened: a bag that holds the chats in our own form beside the files as they were on the phone. Its
 * chats and files can be read for as long as it is, or they are, in somebody's hands.
 */
final readonly class OpenBackup
{
    private Workplace $bag;

    /**
     * @param string             $folder  of the bag
     * @param ScratchFolder|null $scratch that it was unpacked into, gone with it; null where it is kept in that folder
     */
    public function __construct(private string $folder, private ?ScratchFolder $scratch = null)
    {
        $this->bag = new Workplace($folder);
    }

    /** @return array<string, string> the lines of bag-info.txt */
    public function info(): array
    {
        return Bag::info($this->folder);
    }

    /** @throws UnusableInput when they are not as they were written */
    public function chats(): ChatStore
    {
        return new ChatStore($this->bag->chats(), behind: $this->scratch);
    }

    /** @param bool $mayLink whether what is put elsewhere may be the same file: only where nobody writes into it */
    public function files(bool $mayLink = false): ContentFiles
    {
        return new ContentFiles(
            new FolderFiles($this->bag->raw(), mayLink: $mayLink && null === $this->scratch), $this->chats(),
        );
    }

    /** The folder with what was pulled, as the app had it. */
    public function raw(): string
    {
        return $this->bag->raw();
    }
}
