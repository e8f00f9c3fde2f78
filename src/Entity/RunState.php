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
    /** A person has to decide; nothing goes on by itself. */
    case Failed = 'failed';
    case Done = 'done';

    public function isOver(): bool
    {
        return self::Failed === $this || self::Done === $this;
    }
}
