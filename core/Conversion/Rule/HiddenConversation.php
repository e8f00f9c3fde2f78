<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Conversion\Choice;
use Geschenk\Core\Conversion\Outcome;
use Geschenk\Core\Conversion\Route;

final class HiddenConversation extends Touching
{
    public function name(): string
    {
        return 'hidden_conversation';
    }

    public function choices(): array
    {
        return [
            new Choice('as_archived', Outcome::Changed),
            new Choice('left_out', Outcome::LeftOut),
        ];
    }

    public function conversations(Route $route): string
    {
        return 'c.hidden';
    }

    public function changeConversation(Conversation $conversation, Choice $choice): Conversation
    {
        return $conversation->with(['hidden' => false, 'archived' => true]);
    }
}
