<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\Message;

/**
 * One thing that a receiving format can't hold, or holds only in a changed form. What a rule touches is said in SQL over
 * a chat store, so that a million messages are asked at once.
 */
interface LossRule
{
    /** A short name in snake_case, the same in reports, API and command line. */
    public function name(): string;

    /** For the technician to say: what is lost or changed, and how it looks on the receiving phone. */
    public function sentence(): string;

    /** @return non-empty-list<Choice> the ways to go; the first is taken unless somebody chooses. A rule with a single one needs no choice */
    public function choices(): array;

    /**
     * @param Move $move what moves where
     *
     * @return string|null condition over `conversation c`; null when no conversation is touched as such
     */
    public function conversations(Move $move): ?string;

    /** @return string|null condition over `message m`; null when no single message is touched */
    public function messages(Move $move): ?string;

    public function changeConversation(Conversation $conversation, Choice $choice): Conversation;

    /** @return Message the same object where only the way in which it is shown changes */
    public function changeMessage(Message $message, Choice $choice): Message;
}
