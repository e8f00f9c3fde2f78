<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Messenger\Capabilities;

/** One thing that a receiving format can't hold, or holds only in a changed form. */
interface LossRule
{
    /** A short name in snake_case, the same in reports, API and command line. */
    public function name(): string;

    /** One sentence for the technician: what is lost or changed, and how it looks on the receiving phone. */
    public function sentence(): string;

    /** Whether what the rule touches stays behind, rather than going across in a changed form. */
    public function leavesOut(): bool;

    public function touchesConversation(Conversation $conversation, Capabilities $target): bool;

    public function changeConversation(Conversation $conversation): Conversation;

    public function touchesMessage(Message $message, Capabilities $target): bool;

    public function changeMessage(Message $message): Message;
}
