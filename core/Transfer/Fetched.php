<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Files\Durable\ScratchFolder;

/** What a way in has fetched, all of it on the disk: the chats can be read out of it. */
final readonly class Fetched
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
}
