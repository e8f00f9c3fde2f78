<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

/** What a system notice tells. */
enum NoticeKind: string
{
    case Founded = 'founded';
    case Joined = 'joined';
    case JoinedByLink = 'joined_by_link';
    case Left = 'left';
    case Removed = 'removed';
    case MadeAdmin = 'made_admin';
    case UnmadeAdmin = 'unmade_admin';
    case TitleChanged = 'title_changed';
    case AboutChanged = 'about_changed';
    case PictureChanged = 'picture_changed';
    case NumberChanged = 'number_changed';
    /** Its text is the new lifetime in seconds, 0 for off. */
    case TimerChanged = 'timer_changed';
    case KeysChanged = 'keys_changed';
    case Barred = 'barred';
    case Unbarred = 'unbarred';
    case Closed = 'closed';
    /** Made by a conversion: a broadcast list stayed in the backup; its text says which. */
    case ListStayed = 'list_stayed';
    case Unknown = 'unknown';
}
