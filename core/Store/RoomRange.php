<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

/** Where the messages of a conversation are, or will be. */
final readonly class RoomRange
{
    /**
     * @param int $conversation its id
     * @param int $first        id of the first of its messages
     * @param int $messages     how many there are
     */
    public function __construct(public int $conversation, public int $first, public int $messages)
    {
    }
}
