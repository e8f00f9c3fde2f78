<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

/** A person's place in a conversation. Times are milliseconds since 1970 UTC. */
final readonly class Member
{
    public function __construct(
        public string $personKey,
        public MemberRole $role,
        public ?int $joinedAt,
        public ?int $leftAt,
    ) {
    }

    /** @return array{string, string, int|null, int|null} */
    public function canonical(): array
    {
        return [$this->personKey, $this->role->value, $this->joinedAt, $this->leftAt];
    }
}
