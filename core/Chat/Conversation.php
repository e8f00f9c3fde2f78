<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

/** One conversation with its settings, without its messages. Times are milliseconds since 1970 UTC. */
final readonly class Conversation
{
    public const MUTED_FOR_GOOD = -1;

    /**
     * @param string                                  $key        platform-neutral identity: the handle without the platform's suffix
     * @param int|null                                $pinPlace   1 is the topmost pinned conversation; null is not pinned
     * @param int|null                                $mutedUntil null is not muted, MUTED_FOR_GOOD has no end
     * @param int                                     $unread     messages not yet seen by the owner
     * @param list<Member>                            $members    without the owner
     * @param array<string, scalar|null>              $opaque     what the reader had no word for, by table.column
     */
    public function __construct(
        public string $key,
        public ConversationKind $kind,
        public ?string $title,
        public ?string $about,
        public ?int $createdAt,
        public bool $archived,
        public ?int $pinPlace,
        public ?int $mutedUntil,
        public int $unread,
        public ?string $wallpaper,
        public array $members,
        public array $opaque = [],
    ) {
    }

    /**
     * The settings that the arrival check compares, by name.
     *
     * @return array<string, scalar|null>
     */
    public function settings(): array
    {
        return [
            'kind' => $this->kind->value,
            'title' => $this->title,
            'about' => $this->about,
            'created_at' => $this->createdAt,
            'archived' => $this->archived,
            'pin_place' => $this->pinPlace,
            'muted_until' => $this->mutedUntil,
            'unread' => $this->unread,
            'wallpaper' => $this->wallpaper,
        ];
    }

    public function withoutWallpaper(): self
    {
        return new self($this->key, $this->kind, $this->title, $this->about, $this->createdAt, $this->archived, $this->pinPlace, $this->mutedUntil, $this->unread, null, $this->members, $this->opaque);
    }
}
