<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

enum RunKind: string
{
    case Backup = 'backup';
    case Conversion = 'conversion';
    case Restore = 'restore';
    case Check = 'check';
}
