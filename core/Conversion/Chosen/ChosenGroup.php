<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Chosen;

use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Conversion\Route;

/** A message that is nothing but a file of a group that was left out. */
final class ChosenGroup extends ChosenRule
{
    public function name(): string
    {
        return 'chosen_group';
    }

    public function messages(Route $route): ?string
    {
        $kinds = self::kinds($route);

        return null === $kinds ? null : "m.kind IN ($kinds) AND ifnull(CAST(m.body AS BLOB), x'') = x''";
    }

    /** @return string|null the kinds that are left out, as a list in SQL */
    public static function kinds(Route $route): ?string
    {
        $kinds = [];
        foreach ($route->scope->groups as $group) {
            array_push($kinds, ...array_map(static fn (Kind $kind): string => "'$kind->value'", $group->kinds()));
        }

        return [] === $kinds ? null : implode(', ', $kinds);
    }
}
