<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\User;
use Symfony\Component\HttpFoundation\Request;

/**
 * What somebody has uncovered: it holds for one user, one backup and one conversation, or all of them, as long as the
 * session does and the tray stays open.
 */
final class Uncovered
{
    /** Stands for all conversations of a backup. */
    public const ALL = 0;

    public static function holds(Request $request, Backup $backup, int $conversation, User $user): bool
    {
        return true === $request->getSession()->get(self::mark($backup, $conversation, $user));
    }

    public static function begin(Request $request, Backup $backup, int $conversation, User $user): void
    {
        $request->getSession()->set(self::mark($backup, $conversation, $user), true);
    }

    /** @return bool whether it was uncovered */
    public static function end(Request $request, Backup $backup, int $conversation, User $user): bool
    {
        return null !== $request->getSession()->remove(self::mark($backup, $conversation, $user));
    }

    private static function mark(Backup $backup, int $conversation, User $user): string
    {
        $isClosed = null !== $backup->tray->closedAt();

        return sprintf(
            'uncovered.%s.%s.%d.%d', $user->getUserIdentifier(), $backup->id, $conversation, (int) $isClosed,
        );
    }
}
