<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

/** The eight stages of a job, in their order. */
enum Stage: string
{
    case Intake = 'intake';
    case Ready = 'ready';
    case BackUp = 'back_up';
    case Choose = 'choose';
    case Convert = 'convert';
    case Restore = 'restore';
    case Check = 'check';
    case HandOver = 'hand_over';

    public function place(): int
    {
        return (int) array_search($this, self::cases(), true) + 1;
    }
}
