<?php

declare(strict_types=1);

namespace Geschenk\Core\Import\ChatStore;

use Geschenk\Core\Import\ChatsInAFile;
use Geschenk\Core\Store\ChatStore;

/** A chat store by itself (docs/formats/chat-store.md). */
final readonly class ChatStoreImporter extends ChatsInAFile
{
    public static function name(): string
    {
        return 'chat_store';
    }

    public function recognises(string $path): bool
    {
        return is_file($path) && ChatStore::recognises($path);
    }
}
