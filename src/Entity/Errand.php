<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

/** What a customer wants of a tray. */
enum Errand: string
{
    /** Chats go from one phone to another. */
    case Move = 'move';
    /** The chats of one phone are backed up, and stay with the shop. */
    case OnlyBackUp = 'only_back_up';
}
