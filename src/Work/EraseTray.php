<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

/** Has a worker erase all that is kept of a tray's chats. */
final readonly class EraseTray
{
    public function __construct(public int $number)
    {
    }
}
