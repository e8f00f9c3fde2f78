<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Progress;
use Geschenk\Core\UnusableInput;

/** What a way in has fetched, all of it on the disk: the chats can be read out of it. */
readonly class Fetched
{
    /**
     * @param string|ScratchFolder                                  $chats      folder with the files that hold the
     *                                                                          chats, as a format knows them
     * @param list<array{path: string, bytes: int, readable: int}> $unreadable what could not be read to its end
     * @param string                                                $mark       what the phone's data was marked with
     *                                                                          meanwhile; "" where nothing tells
     */
    public function __construct(public string|ScratchFolder $chats, public array $unreadable, public string $mark)
    {
    }

    public function chatsFolder(): string
    {
        return is_string($this->chats) ? $this->chats : $this->chats->path;
    }

    /**
     * Reads the chats out of it.
     *
     * @param AttachmentFiles $files that came with them
     * @param string          $store path of the chat store
     *
     * @throws UnusableInput
     * @throws DiskFull
     */
    public function read(ChatReading $reading, AttachmentFiles $files, string $store, Progress $progress): void
    {
        $reading->read($this->chatsFolder(), $files, $store, $progress, '@phone_data');
    }
}
