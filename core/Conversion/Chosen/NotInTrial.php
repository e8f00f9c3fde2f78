<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Chosen;

use Geschenk\Core\Conversion\Route;
use Geschenk\Core\Conversion\Scope;

/** What is not part of a trial: it stays behind for now, and comes with the rest. */
final class NotInTrial extends ChosenRule
{
    public function name(): string
    {
        return 'not_in_trial';
    }

    public function conversations(Route $route): ?string
    {
        return self::leftBy($route->scope);
    }

    public function messages(Route $route): ?string
    {
        return self::outside($route->scope);
    }

    /** As for ChosenDate, a conversation of which every message stays behind does so itself. */
    public static function leftBy(Scope $scope): ?string
    {
        if (null !== $scope->trial?->conversation) {
            return sprintf("CAST(c.key AS BLOB) <> x'%s'", bin2hex($scope->trial->conversation));
        }
        [$outside, $dates] = [self::outside($scope), ChosenDate::outside($scope)];

        return null === $outside || null === $dates ? null : 'c.messages > 0 AND NOT EXISTS (SELECT 1 FROM message m '
            .'WHERE m.message_id >= c.first_message_id AND m.message_id < c.first_message_id + c.messages '
            ."AND NOT ($outside) AND NOT ($dates))";
    }

    /** SQL that is true of a message that is not among the newest of its conversation. */
    public static function outside(Scope $scope): ?string
    {
        return null === $scope->trial?->newest ? null : sprintf(
            'm.message_id < (SELECT t.first_message_id + t.messages - %d FROM conversation t '
                .'WHERE t.conversation_id = m.conversation_id)',
            $scope->trial->newest,
        );
    }
}
