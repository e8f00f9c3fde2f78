<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat\Content;

/** Who deleted a message for everybody, and when. */
final readonly class Deletion implements Content
{
    /**
     * @param string|null $byKey     a person's key; null for the account's owner
     * @param int|null    $deletedAt milliseconds since 1970 UTC
     */
    public function __construct(public ?string $byKey, public ?int $deletedAt)
    {
    }

    public function sort(): string
    {
        return 'deletion';
    }

    public function toArray(): array
    {
        return ['by' => $this->byKey, 'deleted_at' => $this->deletedAt];
    }
}
