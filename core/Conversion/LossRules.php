<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

/** All loss rules, in the order in which they are asked. */
final class LossRules
{
    /** @return list<LossRule> */
    public static function all(): array
    {
        return [new Rule\BroadcastList(), new Rule\HeardTime(), new Rule\Wallpaper(), new Rule\UnknownKind(), new Rule\UnknownDetail()];
    }
}
