<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

use Geschenk\Core\Failure;

/** Somebody chose what a rule does not offer, or for a rule that there is not. */
final class UnknownChoice extends Failure
{
    public static function of(LossRule $rule, string $key): self
    {
        return new self('unknown_choice', [
            'rule' => $rule->name(), 'choice' => $key,
            'choices' => implode(', ', array_map(static fn (Choice $c): string => $c->key, $rule->choices())),
        ]);
    }

    public static function rule(string $name): self
    {
        return new self('unknown_rule', ['rule' => $name]);
    }
}
