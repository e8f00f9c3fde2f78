<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Conversion\LossRule;
use Geschenk\Core\Messenger\Capabilities;

final class BroadcastList implements LossRule
{
    use UnchangedByDefault;

    public function name(): string
    {
        return 'broadcast_list';
    }

    public function sentence(): string
    {
        return 'The receiving side has no broadcast lists: the list and its messages stay in the backup.';
    }

    public function leavesOut(): bool
    {
        return true;
    }

    public function touchesConversation(Conversation $conversation, Capabilities $target): bool
    {
        return ConversationKind::Broadcast === $conversation->kind && !$target->broadcastLists;
    }
}
