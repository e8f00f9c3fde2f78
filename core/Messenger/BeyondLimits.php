<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

use Geschenk\Core\UnusableInput;

/** What was given would take more than anything honest of its size: it is damaged, or made to do harm. */
final class BeyondLimits extends UnusableInput
{
    public const CPU = 'cpu';
    public const TIME = 'time';
    public const MEMORY = 'memory';
    public const FILE = 'disk';

    /** @param string $what one of the words above */
    public static function of(string $path, string $what): self
    {
        return new self('beyond_limits', ['path' => $path, 'what' => $what]);
    }
}
