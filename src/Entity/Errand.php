<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Geschenk\Core\Phone\Role;

/** What a customer wants of a tray. */
enum Errand: string
{
    /** Chats go from one phone to another. */
    case Move = 'move';
    /** The chats of one phone are backed up, and stay with the shop. */
    case OnlyBackUp = 'only_back_up';
    /** What was backed up once, and is kept, is brought onto a phone. */
    case BringKept = 'bring_kept';
    /** What lay elsewhere was carried in, and is kept from then on: no phone is in it, and it is over as it begins. */
    case Import = 'import';

    /** @return list<Role> what the phones of such a tray do, the first of them with the first tag */
    public function roles(): array
    {
        return match ($this) {
            self::Move => [Role::Gives, Role::Receives],
            self::OnlyBackUp => [Role::Gives],
            self::BringKept => [Role::Receives],
            self::Import => [],
        };
    }
}
