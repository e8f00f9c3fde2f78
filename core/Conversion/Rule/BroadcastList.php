<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Conversion\Choice;
use Geschenk\Core\Conversion\Move;
use Geschenk\Core\Conversion\Outcome;

final class BroadcastList extends Touching
{
    public function name(): string
    {
        return 'broadcast_list';
    }

    public function sentence(): string
    {
        return 'The receiving messenger has no broadcast lists.';
    }

    public function choices(): array
    {
        return [
            new Choice('left_out', 'The list and its messages stay in the backup', Outcome::LeftOut),
            new Choice('as_conversations', 'Each message goes into the conversation with everybody who was on the list', Outcome::Spread),
            new Choice('as_notice', 'The messages stay in the backup, and a notice among the notes to self says so', Outcome::Noticed),
        ];
    }

    public function conversations(Move $move): ?string
    {
        return $move->target->broadcastLists ? null : "c.kind = 'broadcast'";
    }
}
