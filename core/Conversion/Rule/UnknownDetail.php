<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Conversion\LossRule;
use Geschenk\Core\Messenger\Capabilities;

final class UnknownDetail implements LossRule
{
    use UnchangedByDefault;

    public function name(): string
    {
        return 'unknown_detail';
    }

    public function sentence(): string
    {
        return 'The message has a detail that Geschenk does not know. It is carried along and not shown on the receiving side.';
    }

    public function touchesConversation(Conversation $conversation, Capabilities $target): bool
    {
        return Opaque::isForeignTo($target, $conversation->opaque);
    }

    public function touchesMessage(Message $message, Capabilities $target): bool
    {
        return Kind::Unknown !== $message->kind && Opaque::isForeignTo($target, $message->opaque);
    }
}
