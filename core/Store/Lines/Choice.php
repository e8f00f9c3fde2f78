<?php

declare(strict_types=1);

namespace Geschenk\Core\Store\Lines;

use Geschenk\Core\Chat\Kind;

/** What of a chat store is written. */
interface Choice
{
    /** Whether that is all of it. */
    public function isAll(): bool;

    /** Whether of each conversation that is taken all is. */
    public function isWholeConversations(): bool;

    public function hasConversation(string $key): bool;

    /** @param int $sentAt milliseconds since 1970 UTC */
    public function hasMessage(Kind $kind, int $sentAt): bool;
}
