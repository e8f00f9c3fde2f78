<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

/** What a system notice tells. */
enum NoticeKind: string
{
    case Founded = 'founded';
    case Joined = 'joined';
    case Left = 'left';
    case Removed = 'removed';
    case MadeAdmin = 'made_admin';
    case TitleChanged = 'title_changed';
    case NumberChanged = 'number_changed';
    case Unknown = 'unknown';
}
