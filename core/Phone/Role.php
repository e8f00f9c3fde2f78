<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

enum Role: string
{
    case Gives = 'gives';
    case Receives = 'receives';
}
