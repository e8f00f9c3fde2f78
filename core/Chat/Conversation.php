<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

/** One conversation with its settings, without its messages. Times are milliseconds since 1970 UTC. */
final readonly class Conversation
{
    public const MUTED_FOR_GOOD = -1;

    /**
     * @param string                     $key          platform-neutral identity: the handle without the platform's
     * suffix
     * @param int|null                   $pinPlace     1 is the topmost pinned conversation; null is not pinned
     * @param int|null                   $mutedUntil   null is not muted, MUTED_FOR_GOOD has no end
     * @param int                        $unread       messages not yet seen by the owner
     * @param list<Member>               $members      without the owner
     * @param array<string, scalar|null> $opaque       what the reader had no word for, by table.column
     * @param int|null                   $timerSeconds how long a new message lives; null is for good
     * @param string|null                $draft        what the owner had begun to write
     * @param bool                       $markedUnread set by the owner's hand
     * @param string|null                $picture      bytes of its picture
     * @param list<string>               $labels       names of the labels on it, in their order
     * @param bool                       $hidden       kept out of the list of conversations by a rebuild of the
     * messenger
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
        public ?int $timerSeconds = null,
        public ?string $draft = null,
        public bool $markedUnread = false,
        public ?string $picture = null,
        public array $labels = [],
        public bool $hidden = false,
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
            'timer_seconds' => $this->timerSeconds,
            'draft' => $this->draft,
            'marked_unread' => $this->markedUnread,
            'picture' => null === $this->picture ? null : hash('sha256', $this->picture),
            // Each with its length: a label may hold any byte.
            'labels' => implode(
                '', array_map(static fn (string $label): string => strlen($label).':'.$label, $this->labels),
            ),
            'hidden' => $this->hidden,
        ];
    }

    /** @param array<string, mixed> $changes by property */
    public function with(array $changes): self
    {
        // @phpstan-ignore argument.type (the constructor checks what it is given)
        return new self(...[...get_object_vars($this), ...$changes]);
    }
}
