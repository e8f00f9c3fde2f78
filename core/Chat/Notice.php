<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

/** A system notice: who did what to whom. */
final readonly class Notice
{
    /**
     * @param string|null $actorKey  the person who did it; null is the account's owner or nobody
     * @param string|null $targetKey the person it was done to
     * @param string|null $text      the new title or the new number
     */
    public function __construct(
        public NoticeKind $kind,
        public ?string $actorKey = null,
        public ?string $targetKey = null,
        public ?string $text = null,
    ) {
    }

    /** @return array{string, string|null, string|null, string|null} */
    public function canonical(): array
    {
        return [$this->kind->value, $this->actorKey, $this->targetKey, $this->text];
    }
}
