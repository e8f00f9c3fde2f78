<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

enum ConversationKind: string
{
    case Direct = 'direct';
    case Group = 'group';
    case Broadcast = 'broadcast';
    case NotesToSelf = 'notes_to_self';
    case Unknown = 'unknown';
}
