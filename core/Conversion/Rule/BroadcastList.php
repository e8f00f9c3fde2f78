<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Conversion\Choice;
use Geschenk\Core\Conversion\Outcome;
use Geschenk\Core\Conversion\Route;

final class BroadcastList extends Touching
{
    public function name(): string
    {
        return 'broadcast_list';
    }

    public function choices(): array
    {
        return [
            new Choice('left_out', Outcome::LeftOut),
            new Choice('as_conversations', Outcome::Spread),
            new Choice('as_notice', Outcome::Noticed),
        ];
    }

    public function conversations(Route $route): ?string
    {
        return $route->target->broadcastLists ? null : "c.kind = 'broadcast'";
    }
}
