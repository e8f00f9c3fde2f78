<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Geschenk\App\Entity\Backup;
use Geschenk\App\Http\Time;

/** A backup that the shop keeps: of whom and of what it is, and nothing that anybody wrote. */
final class KeptBackupView
{
    /** @return array<string, mixed> */
    public static function of(Backup $backup): array
    {
        $until = $backup->keptUntil();

        return [
            'id' => $backup->id, 'tray' => $backup->tray->number, 'customer_id' => $backup->customer->id(),
            'customer' => $backup->customer->name(), 'contact' => $backup->customer->contact(),
            'language' => $backup->customer->language(), 'app' => $backup->app,
            'edition' => $backup->edition, 'account' => $backup->account, 'taken_at' => Time::iso($backup->takenAt),
            'newest_at' => Time::ofMilliseconds($backup->newestAt), 'conversations' => $backup->conversations,
            'messages' => $backup->messages, 'attachment_bytes' => $backup->attachmentBytes, 'lost' => $backup->lost,
            'kept_until' => null === $until ? null : Time::iso($until),
        ];
    }

    /**
     * What came with it, and how.
     *
     * @param int|null $newestOnPhone milliseconds since 1970 UTC; null where the phone has nothing newer, or is away
     *
     * @return array<string, mixed>
     */
    public static function facts(Backup $backup, ?int $newestOnPhone = null): array
    {
        return [
            'id' => $backup->id, 'tray' => $backup->tray->number, 'kept' => $backup->isKept(),
            'taken_at' => Time::iso($backup->takenAt), 'way_in' => $backup->wayIn,
            'account' => $backup->account, 'conversations' => $backup->conversations, 'messages' => $backup->messages,
            'attachments' => $backup->attachments, 'attachments_absent' => $backup->attachmentsAbsent,
            'lost' => $backup->lost, 'attachment_bytes' => $backup->attachmentBytes,
            'newest_at' => Time::ofMilliseconds($backup->newestAt),
            'made_at' => null === $backup->madeAt ? null : Time::iso($backup->madeAt),
            'locked_with' => $backup->lockedWith?->value, 'without_videos' => $backup->withoutVideos,
            'phone_newest_at' => Time::ofMilliseconds($newestOnPhone),
        ];
    }
}
