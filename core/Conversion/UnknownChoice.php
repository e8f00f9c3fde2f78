<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

/** Somebody chose what a rule does not offer, or for a rule that there is not. */
final class UnknownChoice extends \DomainException
{
    public static function of(LossRule $rule, string $key): self
    {
        return new self(sprintf('For %s there is no "%s". Choose one of: %s.', $rule->name(), $key, implode(', ', array_map(static fn (Choice $c): string => $c->key, $rule->choices()))));
    }

    public static function rule(string $name): self
    {
        return new self(sprintf('There is no loss rule "%s" to choose for.', $name));
    }
}
