<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Choosing;

use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Move;
use Geschenk\Core\Phone\Role;

/** Whether a backup lacks messages that its phone has by now. */
final readonly class Behind
{
    public function __construct(private Phones $phones)
    {
    }

    /** @return int|null when the newest message on the phone was sent, in milliseconds; null when the backup has it */
    public function newestOnPhone(Move $move): ?int
    {
        $backup = $move->backup();
        // A kept backup's phone may be anybody's by now.
        if (null === $backup || !$move->tray->has(Role::Gives)) {
            return null;
        }
        $there = $this->phones->holding($backup->serial, $backup->app)?->counts()['newest_at'] ?? null;

        return null !== $there && $there > ($backup->newestAt ?? 0) ? $there : null;
    }
}
