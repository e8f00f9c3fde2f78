<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

final readonly class Reaction
{
    /**
     * @param string|null $personKey null is the account's owner
     * @param string      $sign      the emoji sequence given
     * @param int|null    $givenAt   milliseconds since 1970 UTC
     */
    public function __construct(
        public ?string $personKey,
        public string $sign,
        public ?int $givenAt,
    ) {
    }
}
