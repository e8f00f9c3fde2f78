<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Messenger\Capabilities;

/** For rules that touch only conversations, or only messages, or only how something is shown. */
trait UnchangedByDefault
{
    public function leavesOut(): bool
    {
        return false;
    }

    public function touchesConversation(Conversation $conversation, Capabilities $target): bool
    {
        return false;
    }

    public function changeConversation(Conversation $conversation): Conversation
    {
        return $conversation;
    }

    public function touchesMessage(Message $message, Capabilities $target): bool
    {
        return false;
    }

    public function changeMessage(Message $message): Message
    {
        return $message;
    }
}
