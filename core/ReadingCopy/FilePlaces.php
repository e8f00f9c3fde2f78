<?php

declare(strict_types=1);

namespace Geschenk\Core\ReadingCopy;

use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Conversion\FileGroup;
use Geschenk\Core\Files\Durable\SafeName;
use Geschenk\Core\Messenger\FileExtension;
use Geschenk\Core\Store\StoredMessage;

/**
 * Where the attachments of a copy lie: sorted by kind, each with its day, its own name as far as every file system
 * takes it, and the number of its message.
 */
final readonly class FilePlaces
{
    public const FOLDER = 'files';
    public const OTHERS = 'others';

    /** @param array<string, string> $folders what the folder of a FileGroup, and of others, is called */
    public function __construct(private array $folders, private \DateTimeZone $zone)
    {
    }

    /**
     * @param int $place of the attachment in its message, from 0
     *
     * @return string|null below the copy; null where the backup has no such file
     */
    public function of(StoredMessage $message, int $place): ?string
    {
        $attachment = $message->message->attachments[$place] ?? null;
        if (null === $attachment || !$attachment->presence->hasFile()) {
            return null;
        }
        $name = implode('_', array_filter([
            $this->day($message->message->sentAt), SafeName::of($attachment->shownName),
            $message->id.(0 === $place ? '' : '-'.($place + 1)),
        ], static fn (string $part): bool => '' !== $part));

        return implode('/', [
            self::FOLDER, $this->folder($message->message->kind, $attachment->mediaType),
            $name.'.'.FileExtension::for($attachment),
        ]);
    }

    private function folder(Kind $kind, string $mediaType): string
    {
        foreach (FileGroup::cases() as $group) {
            if (in_array($kind, $group->kinds(), true)) {
                return $this->folders[$group->value] ?? $group->value;
            }
        }

        // Of a kind that nobody knows, by what it is.
        $group = match (strstr($mediaType, '/', true)) {
            'image' => FileGroup::Photos->value,
            'video' => FileGroup::Videos->value,
            'audio' => FileGroup::Voice->value,
            default => self::OTHERS,
        };

        return $this->folders[$group] ?? $group;
    }

    private function day(int $sentAt): string
    {
        // What no calendar has gets no day.
        return $sentAt <= 0 || $sentAt > 4_102_444_800_000 ? '' : (new \DateTimeImmutable('@'.intdiv($sentAt, 1000)))
            ->setTimezone($this->zone)->format('Y-m-d_His');
    }
}
