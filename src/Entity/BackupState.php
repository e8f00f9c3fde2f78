<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

/** What has become of a backup. Its record stays, whatever becomes of it. */
enum BackupState: string
{
    case Kept = 'kept';
    /** Kept, and under a password of its customer's: nobody at the shop opens it. */
    case Locked = 'locked';
    /** It was asked for that it goes: from then on it is nobody's any more. */
    case Erasing = 'erasing';
    case Erased = 'erased';
}
