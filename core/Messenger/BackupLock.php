<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

/** What a messenger's own backup is locked with. */
enum BackupLock: string
{
    case Open = 'open';
    case Password = 'password';
    /** 64 hexadecimal digits. */
    case Digits = 'digits';
}
