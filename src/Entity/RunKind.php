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

    /** Whether it stages something on a phone, that lies there until it is swapped in or removed. */
    public function stages(): bool
    {
        return self::Restore === $this || self::PutBack === $this;
    }
}
