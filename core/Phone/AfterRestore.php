<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

use Geschenk\Core\Phone\Rule\Status;
use Geschenk\Core\Platform;

/**
 * What is still to happen on a phone once its chats are in place: it starts anew, the messenger is opened and prepares
 * its database, and is given what it asks for. Each is seen on the phone; none holds anything up.
 */
final class AfterRestore
{
    /** Seconds: the phone is started before it is noted that the chats are in place. */
    private const NOTED_WITHIN = 30;

    /**
     * @param int $since seconds since the chats were in place
     *
     * @return list<Point>
     */
    public static function points(?PhoneState $phone, AccountAsked $account, int $since): array
    {
        if (null === $phone) {
            return [];
        }
        $app = $phone->app($account->app);
        $isStarted = null === $phone->upFor ? null : $phone->upFor <= $since + self::NOTED_WITHIN;
        $point = static fn (string $id, ?bool $isMet): Point => new Point(
            $id, Status::of($isMet), Point::TECHNICIAN, Point::WARNS, $id, ['name' => $account->name], $account->app,
        );
        $points = [
            $point('number_settled', null === $app ? null : null === $app->signUp && null !== $app->number),
            $point('started_anew', $isStarted), $point('messenger_opened', $app?->opened),
            $point('contacts_allowed', $app?->contactsAllowed),
        ];
        // Android asks for pictures and files in one: that is a point of readiness.
        $points[] = Platform::Android === $phone->platform
            ? $point('storage_allowed', $app?->storageAllowed)
            : $point('photos_allowed', $app?->photosAllowed);

        return $points;
    }
}
