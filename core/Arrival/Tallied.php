<?php

declare(strict_types=1);

namespace Geschenk\Core\Arrival;

/** What became of one conversation, in sum. */
final readonly class Tallied
{
    /**
     * @param array<string, int>             $accounts columns that are not 0
     * @param array{int|null, int|null}|null $times    first and last of both sides, where each message has its like
     * @param list<string>                   $settings those that differ
     * @param array<string>                  $rules    of losses
     */
    public function __construct(
        public Verdict $verdict,
        public array $accounts = [],
        public int $extra = 0,
        public ?array $times = null,
        public array $settings = [],
        public array $rules = [],
    ) {
    }
}
