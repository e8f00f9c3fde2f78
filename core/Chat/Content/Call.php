<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat\Content;

/** A call that was made over the messenger. */
final readonly class Call implements Content
{
    /** @param int|null $durationMs how long it was; null when nobody talked */
    public function __construct(public bool $video, public CallOutcome $outcome, public ?int $durationMs)
    {
    }

    public function sort(): string
    {
        return 'call';
    }

    public function toArray(): array
    {
        return ['video' => $this->video, 'outcome' => $this->outcome->value, 'duration_ms' => $this->durationMs];
    }
}
