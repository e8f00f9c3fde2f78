<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

/** What a backup was taken for. */
enum Origin: string
{
    /** To be brought, now or later. */
    case Account = 'account';
    /** All that an app held on the phone that receives, before it was written to: the way back. */
    case SafetyCopy = 'safety_copy';
}
