<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

/** What a bringing was begun for. What it is on top of, and how much of the backup, it says itself. */
enum Aim: string
{
    /** What is chosen of the backup. */
    case Whole = 'whole';
    /** What a trial left for later. */
    case Rest = 'rest';
    /** What a check found missing. */
    case Missing = 'missing';
    /** The backup of a tray that was opened anew behind its hand-over. */
    case OnceMore = 'once_more';
}
