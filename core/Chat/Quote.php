<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

/** The words of an answered message, kept where that message itself is gone. */
final readonly class Quote
{
    /** @param int|null $sentAt milliseconds since 1970 UTC */
    public function __construct(
        public ?string $senderKey,
        public bool $fromOwner,
        public Kind $kind,
        public ?string $text,
        public ?int $sentAt,
    ) {
    }

    /** @return array{string|null, bool, string, string|null, int|null} */
    public function canonical(): array
    {
        return [$this->senderKey, $this->fromOwner, $this->kind->value, $this->text, $this->sentAt];
    }
}
