<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Store\StoredMessage;

/**
 * A message as a page shows it, in words.
 *
 * @phpstan-type ShownFile array{
 *     path: string|null, as: string, name: string, size: string, presence: string, sha256: string|null,
 * }
 * @phpstan-type Row array{
 *     id: int, day: string, time: string, sender: string, own: bool, kind: string, text: string|null,
 *     besides: string|null, files: list<ShownFile>, marks: list<string>,
 * }
 */
final class ShownRow
{
    public const PICTURES = ['image/jpeg', 'image/png', 'image/gif', 'image/webp'];

    /** @return Row */
    public static function of(CopyContext $of, StoredMessage $stored): array
    {
        $message = $stored->message;
        $files = [];
        foreach ($message->attachments as $place => $attachment) {
            $path = $of->file($stored, $place);
            $files[] = [
                'path' => $path, 'as' => self::shownAs($attachment),
                'name' => $of->told::short($attachment->shownName ?? ''),
                'size' => $of->told->bytes($attachment->bytes),
                'presence' => $of->told->say(
                    $of->isSpoilt($stored, $place) ? 'copy.spoilt' : 'presence.'.$attachment->presence->value,
                ),
                'sha256' => $attachment->sha256,
            ];
        }

        return [
            'id' => $stored->id, 'day' => $of->told->day($message->sentAt), 'time' => $of->told->time($message->sentAt),
            'sender' => $of->told->sender($message), 'own' => $message->fromOwner,
            'kind' => $of->told->kind($message), 'text' => $of->told->text($message),
            'besides' => $of->told->besides($message), 'files' => $files, 'marks' => $of->told->marks($message),
        ];
    }

    private static function shownAs(Attachment $attachment): string
    {
        $type = $attachment->mediaType;

        return match (true) {
            in_array($type, self::PICTURES, true) => 'picture',
            str_starts_with($type, 'video/') => 'video',
            str_starts_with($type, 'audio/') => 'sound',
            default => 'file',
        };
    }
}
