<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

use Geschenk\Core\Conversion\Chosen\ChosenConversation;
use Geschenk\Core\Conversion\Chosen\ChosenDate;
use Geschenk\Core\Conversion\Chosen\ChosenFile;
use Geschenk\Core\Conversion\Chosen\ChosenGroup;
use Geschenk\Core\Conversion\Chosen\NotInTrial;

/** All loss rules: those first that leave something behind, so that the others are not asked about it. */
final class LossRules
{
    /** @return list<LossRule> */
    public static function all(): array
    {
        return [
            new ChosenConversation(), new ChosenDate(), new ChosenGroup(), new NotInTrial(),
            new Rule\BroadcastList(), new Rule\HiddenConversation(), new Rule\Expired(), new Rule\KeptAlthoughDeleted(),
            new ChosenFile(), new Rule\HeardTime(), new Rule\Wallpaper(), new Rule\SendEffect(),
            new Rule\MotionPart(), new Rule\QuoteOfGone(),
            new Rule\FarTime(), new Rule\UnknownKind(), new Rule\UnknownDetail(),
        ];
    }

    /**
     * @param array<string, string> $choices key of the choice by rule
     *
     * @throws UnknownChoice when there is no such rule or it offers no such thing
     */
    public static function ensureOffered(array $choices): void
    {
        foreach ($choices as $name => $key) {
            $rule = array_values(
                array_filter(self::all(), static fn (LossRule $rule): bool => $rule->name() === $name),
            )[0] ?? throw UnknownChoice::rule($name);
            if (!in_array($key, array_map(static fn (Choice $c): string => $c->key, $rule->choices()), true)) {
                throw UnknownChoice::of($rule, $key);
            }
        }
    }
}
