<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Chosen;

use Geschenk\Core\Conversion\Route;
use Geschenk\Core\Conversion\Scope;

final class ChosenDate extends ChosenRule
{
    public function name(): string
    {
        return 'chosen_date';
    }

    public function conversations(Route $route): ?string
    {
        return self::leftBy($route->scope);
    }

    public function messages(Route $route): ?string
    {
        return self::outside($route->scope);
    }

    /** A conversation of which every message stays behind does so itself: it would arrive empty. */
    public static function leftBy(Scope $scope): ?string
    {
        $outside = self::outside($scope);

        return null === $outside ? null : 'c.messages > 0 AND NOT EXISTS (SELECT 1 FROM message m '
            .'WHERE m.message_id >= c.first_message_id AND m.message_id < c.first_message_id + c.messages '
            ."AND NOT ($outside))";
    }

    /** SQL that is true of a message outside the dates. */
    public static function outside(Scope $scope): ?string
    {
        $parts = [];
        if (null !== $scope->since) {
            $parts[] = sprintf('m.sent_at < %d', $scope->since);
        }
        if (null !== $scope->before) {
            $parts[] = sprintf('m.sent_at >= %d', $scope->before);
        }

        return [] === $parts ? null : implode(' OR ', $parts);
    }
}
