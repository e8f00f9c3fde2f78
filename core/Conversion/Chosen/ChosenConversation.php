<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Chosen;

use Geschenk\Core\Conversion\Route;
use Geschenk\Core\Conversion\Scope;

final class ChosenConversation extends ChosenRule
{
    public function name(): string
    {
        return 'chosen_conversation';
    }

    public function conversations(Route $route): ?string
    {
        return self::leftBy($route->scope);
    }

    public static function leftBy(Scope $scope): ?string
    {
        // As bytes: a key comes from a phone and may hold anything.
        $keys = array_map(static fn (string $key): string => "x'".bin2hex($key)."'", $scope->conversations);

        return [] === $keys ? null : 'CAST(c.key AS BLOB) IN ('.implode(', ', $keys).')';
    }
}
