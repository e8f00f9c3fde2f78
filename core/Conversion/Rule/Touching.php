<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Conversion\Choice;
use Geschenk\Core\Conversion\LossRule;
use Geschenk\Core\Conversion\Outcome;
use Geschenk\Core\Conversion\Route;

/** What most rules have in common: they touch only conversations or only messages, and need no choice. */
abstract class Touching implements LossRule
{
    public function choices(): array
    {
        return [new Choice('changed', Outcome::Changed)];
    }

    public function conversations(Route $route): ?string
    {
        return null;
    }

    public function messages(Route $route): ?string
    {
        return null;
    }

    public function changeConversation(Conversation $conversation, Choice $choice): Conversation
    {
        return $conversation;
    }

    public function changeMessage(Message $message, Choice $choice): Message
    {
        return $message;
    }

    /**
     * SQL that is true where an opaque detail belongs to another format than the receiving one.
     *
     * @param string $column an `opaque` column
     */
    protected static function isForeign(string $column, Route $route): string
    {
        return sprintf(
            "%s IS NOT NULL AND EXISTS (SELECT 1 FROM json_each(%s) WHERE substr(key, 1, %d) <> '%s')", $column,
            $column, strlen($route->target->detailPrefix), $route->target->detailPrefix,
        );
    }
}
