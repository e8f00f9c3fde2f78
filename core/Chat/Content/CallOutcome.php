<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat\Content;

enum CallOutcome: string
{
    case Answered = 'answered';
    case Missed = 'missed';
    case Declined = 'declined';
    case Failed = 'failed';
    case Unknown = 'unknown';
}
