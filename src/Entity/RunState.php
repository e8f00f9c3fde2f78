<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

enum RunState: string
{
    /** In the queue, or waiting until another run lets go of the phone. */
    case Queued = 'queued';
    case Working = 'working';
    /** Something has to be done on a phone; the run looks again by itself and goes on. */
    case Waiting = 'waiting';
    /** Somebody has it rest; what it has done stays. */
    case Paused = 'paused';
    /** A person has to decide; nothing goes on by itself. */
    case Failed = 'failed';
    /** What it has done is being removed. */
    case Cancelling = 'cancelling';
    case Cancelled = 'cancelled';
    case Done = 'done';

    /** Those that a worker has something to do for. */
    public const UNDER_WAY = [self::Queued, self::Working, self::Waiting, self::Cancelling];

    /** Those that go on once somebody says so. */
    public const STANDING = [self::Paused, self::Failed];

    /** Nothing goes on by itself. */
    public function rests(): bool
    {
        return !in_array($this, self::UNDER_WAY, true);
    }

    public function canGoOn(): bool
    {
        return in_array($this, self::STANDING, true);
    }

    /** It says nothing any more about where its move stands. */
    public function isOver(): bool
    {
        return self::Done === $this || self::Cancelled === $this;
    }
}
