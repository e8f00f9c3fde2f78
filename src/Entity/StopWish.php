<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

/** What somebody wants of a run that a worker is at; it sees that at its next step. */
enum StopWish: string
{
    case Pause = 'pause';
    case Cancel = 'cancel';
}
