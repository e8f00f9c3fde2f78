<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

enum RunKind: string
{
    case Backup = 'backup';
    case Conversion = 'conversion';
    case Restore = 'restore';
    case Check = 'check';
    case PutBack = 'put_back';
}
