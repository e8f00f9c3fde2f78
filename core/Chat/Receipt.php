<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

/** When one person got, read and heard one message. Times are milliseconds since 1970 UTC. */
final readonly class Receipt
{
    public function __construct(
        public string $personKey,
        public ?int $deliveredAt,
        public ?int $readAt,
        public ?int $heardAt,
    ) {
    }

    public function withoutHeard(): self
    {
        return new self($this->personKey, $this->deliveredAt, $this->readAt, null);
    }
}
