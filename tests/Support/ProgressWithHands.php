<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support;

use Geschenk\Core\Progress;

/** Does something whenever a phase begins, as somebody with the phone in their hands might. */
final class ProgressWithHands implements Progress
{
    /** @var list<string> */
    public array $phases = [];

    /** @param \Closure(string $phase, int $items): void $onPhase */
    public function __construct(private readonly \Closure $onPhase)
    {
    }

    public function phase(string $name, int $items = 0, int $bytes = 0): void
    {
        $this->phases[] = $name;
        ($this->onPhase)($name, $items);
    }

    public function advance(int $items, int $bytes = 0): void
    {
    }
}
