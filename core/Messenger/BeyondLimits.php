<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

/** What was given would take more than anything honest of its size: it is damaged, or made to do harm. */
final class BeyondLimits extends UnusableInput
{
    public const CPU = 'computing time';
    public const TIME = 'time';
    public const MEMORY = 'memory';
    public const FILE = 'space on the disk';

    /** @param string $what one of the words above */
    public static function of(string $name, string $what): self
    {
        return new self(sprintf('Reading %s took more %s than chats of that size ever need, and was stopped. It is damaged, or was made to do harm. Nothing else was touched; have the messenger make a new backup, or take another way in.', $name, $what));
    }
}
