<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

/** How far a message got. The first five are for the owner's own messages, the next two for those of others. */
enum DeliveryState: string
{
    case Waiting = 'waiting';
    case Sent = 'sent';
    case Delivered = 'delivered';
    case Read = 'read';
    case Failed = 'failed';
    case Received = 'received';
    case Seen = 'seen';
    case Unknown = 'unknown';
}
