<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

/**
 * What can't be read any more of the chats on a phone that is written to. It is gone from there afterwards, and stays
 * in the safety copy alone: so somebody has to have agreed to it in numbers.
 */
final readonly class Unreadable
{
    /** @param bool $isUncounted whether there is more of it than could be counted */
    public function __construct(public int $messages = 0, public bool $isUncounted = false)
    {
    }

    /** @param array{lost?: int, loss_uncounted?: bool} $counts as a look, or a merge, told them */
    public static function of(array $counts): self
    {
        return new self($counts['lost'] ?? 0, $counts['loss_uncounted'] ?? false);
    }

    public function isAny(): bool
    {
        return $this->messages > 0 || $this->isUncounted;
    }

    /**
     * @param int|null $agreed messages that somebody agreed to, as they were shown
     *
     * @throws RestoreRefused
     */
    public function ensureAgreed(?int $agreed): void
    {
        if ($this->isAny() && $agreed !== $this->messages) {
            throw RestoreRefused::unreadableThere($this->messages);
        }
    }
}
