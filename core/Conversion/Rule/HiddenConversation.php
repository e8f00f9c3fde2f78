<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Conversion\Choice;
use Geschenk\Core\Conversion\Move;
use Geschenk\Core\Conversion\Outcome;

final class HiddenConversation extends Touching
{
    public function name(): string
    {
        return 'hidden_conversation';
    }

    public function sentence(): string
    {
        return 'A rebuild of the messenger kept the conversation out of sight. The official one can’t hide it.';
    }

    public function choices(): array
    {
        return [
            new Choice('as_archived', 'It arrives among the archived conversations, for everybody to see who holds the phone', Outcome::Changed),
            new Choice('left_out', 'It stays in the backup', Outcome::LeftOut),
        ];
    }

    public function conversations(Move $move): string
    {
        return 'c.hidden';
    }

    public function changeConversation(Conversation $conversation, Choice $choice): Conversation
    {
        return $conversation->with(['hidden' => false, 'archived' => true]);
    }
}
