<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

use Geschenk\Core\Chat\Conversation;

/** A conversation with its place in a chat store. */
final readonly class StoredConversation
{
    /** @param list<string> $rules names of the loss rules that apply to the conversation itself */
    public function __construct(
        public int $id,
        public Conversation $conversation,
        public Fate $fate,
        public array $rules,
    ) {
    }
}
