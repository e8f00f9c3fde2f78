<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

enum MemberRole: string
{
    case Member = 'member';
    case Admin = 'admin';
    case Owner = 'owner';
}
