<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Messenger\BackupLock;

/**
 * What a way in has of an account, as it can be seen from outside.
 *
 * @phpstan-type Told array{
 *     way: string, path: string, changed: string, made_at: int|null, bytes: int|null,
 *     lock: value-of<BackupLock>|null, attachments: int|null, attachment_bytes: int|null, videos: int|null,
 * }
 */
final readonly class Offer
{
    /**
     * @param string          $way             name of the WayIn
     * @param string          $path            tells it from the others of its way; "" where it has one only
     * @param string          $changed         differs once it does; "" where nothing tells
     * @param int|null        $madeAt          s since 1970 UTC, by the clock of whoever made it; null for the chats as
     *                                         they are now
     * @param int|null        $bytes           of what holds the chats; null while nobody knows
     * @param BackupLock|null $lock            null when it is of no known sort
     * @param int|null        $attachments     files that come with it; null while nobody knows
     * @param int|null        $attachmentBytes of those files
     * @param int|null        $videos          how many of them are videos
     */
    public function __construct(
        public string $way,
        public string $path = '',
        public string $changed = '',
        public ?int $madeAt = null,
        public ?int $bytes = null,
        public ?BackupLock $lock = BackupLock::Open,
        public ?int $attachments = null,
        public ?int $attachmentBytes = null,
        public ?int $videos = null,
    ) {
    }

    /** Names it among all of an account. */
    public function id(): string
    {
        return '' === $this->path ? $this->way : $this->way.'/'.$this->path;
    }

    /** Whether it is the chats as they are now, and not as they were when something was made of them. */
    public function isOfNow(): bool
    {
        return null === $this->madeAt;
    }

    /** Whether somebody has to tell what opens it. */
    public function isLocked(): bool
    {
        return BackupLock::Open !== $this->lock;
    }

    /** @return Told as records keep it */
    public function told(): array
    {
        return [
            'way' => $this->way, 'path' => $this->path, 'changed' => $this->changed, 'made_at' => $this->madeAt,
            'bytes' => $this->bytes, 'lock' => $this->lock?->value, 'attachments' => $this->attachments,
            'attachment_bytes' => $this->attachmentBytes, 'videos' => $this->videos,
        ];
    }

    /** @param Told $told */
    public static function of(array $told): self
    {
        return new self(
            $told['way'], $told['path'], $told['changed'], $told['made_at'], $told['bytes'],
            BackupLock::tryFrom($told['lock'] ?? ''), $told['attachments'], $told['attachment_bytes'], $told['videos'],
        );
    }
}
