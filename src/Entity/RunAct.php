<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

/** What somebody can do about a run that was asked for. */
enum RunAct: string
{
    case GoOn = 'go_on';
    case Pause = 'pause';
    case Cancel = 'cancel';

    /** Code of translations/ under "log". */
    public function logged(): string
    {
        return match ($this) {
            self::GoOn => 'went_on',
            self::Pause => 'paused',
            self::Cancel => 'cancelled',
        };
    }
}
