<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\Message;

/**
 * One thing that a receiving format can't hold, or holds only in a changed form. What a rule touches is said in SQL
 * over a chat store, so that a million messages are asked at once.
 */
interface LossRule
{
    /**
     * A short name in snake_case, the same in reports, API and command line. What is lost or changed, and how it looks
     * on the receiving phone, stands under "loss" in translations/.
     */
    public function name(): string;

    /**
     * @return non-empty-list<Choice> the ways to go; the first is taken unless somebody chooses. A rule with a single
     * one needs no choice
     */
    public function choices(): array;

    /**
     * @param Route $route what moves where
     *
     * @return string|null condition over `conversation c`; null when no conversation is touched as such
     */
    public function conversations(Route $route): ?string;

    /** @return string|null condition over `message m`; null when no single message is touched */
    public function messages(Route $route): ?string;

    public function changeConversation(Conversation $conversation, Choice $choice): Conversation;

    /** @return Message the same object where only the way in which it is shown changes */
    public function changeMessage(Message $message, Choice $choice): Message;
}
