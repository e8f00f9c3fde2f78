<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Intake;

use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Tray;
use Geschenk\Core\Phone\Role;

/** Whether what the two phones hold speaks against the roles that they were given: swapped ones overwrite the chats. */
final readonly class DirectionDoubt
{
    /** Codes of translations/. */
    public const GIVES_NOTHING = 'direction.gives_nothing';
    public const RECEIVES_MORE = 'direction.receives_more';
    public const RECEIVES_SOME = 'direction.receives_some';

    public function __construct(private SumOnPhone $held)
    {
    }

    /** @return array{key: string, tag: string, params: array<string, string|int>}|null null when nothing does */
    public function of(Tray $tray): ?array
    {
        // One phone has no roles to be swapped.
        if (null !== $tray->closedAt() || $tray->hasRestored() || !$tray->isBetweenPhones()) {
            return null;
        }
        $gives = $tray->phone(Role::Gives);
        $receives = $tray->phone(Role::Receives);
        $given = $this->held->on($gives)['messages'] ?? null;
        $there = $this->held->on($receives)['messages'] ?? null;
        $params = ['gives' => $gives->tag, 'receives' => $receives->tag, 'messages' => $there ?? 0];

        return match (true) {
            0 === $given => ['key' => self::GIVES_NOTHING, 'tag' => $gives->tag, 'params' => $params],
            null === $there || 0 === $there => null,
            // What is merged takes nothing away.
            [] !== $tray->moves() && [] === array_filter(
                $tray->moves(), static fn (Move $move): bool => !$move->bringing()->merges(),
            ) => null,
            default => [
                'key' => null !== $given && $there > $given ? self::RECEIVES_MORE : self::RECEIVES_SOME,
                'tag' => $receives->tag, 'params' => $params,
            ],
        };
    }
}
