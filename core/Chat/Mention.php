<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

/** A stretch of a message's text that names somebody. */
final readonly class Mention
{
    /**
     * @param int $start  bytes from the beginning of the text
     * @param int $length bytes
     */
    public function __construct(public string $personKey, public int $start, public int $length)
    {
    }

    /** @return array{string, int, int} */
    public function canonical(): array
    {
        return [$this->personKey, $this->start, $this->length];
    }
}
