<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

use Geschenk\Core\Messenger\Capabilities;

/** What a conversion is for: what the receiving format can hold, the moment it is judged by, and what was chosen. */
final readonly class Route
{
    /**
     * @param int                   $moment  milliseconds since 1970 UTC; a lifetime that ends then or earlier is over
     * @param array<string, string> $choices key of the choice by rule; the first of a rule where nothing was chosen
     * @param Scope                 $scope   what somebody chose to leave behind
     */
    public function __construct(
        public Capabilities $target,
        public int $moment,
        public array $choices = [],
        public Scope $scope = new Scope(),
    ) {
    }

    /** @throws UnknownChoice when something was chosen that the rule does not offer */
    public function choiceOf(LossRule $rule): Choice
    {
        $key = $this->choices[$rule->name()] ?? null;
        foreach ($rule->choices() as $choice) {
            if (null === $key || $choice->key === $key) {
                return $choice;
            }
        }
        throw UnknownChoice::of($rule, (string) $key);
    }
}
