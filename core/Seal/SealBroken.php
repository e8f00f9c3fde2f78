<?php

declare(strict_types=1);

namespace Geschenk\Core\Seal;

use Geschenk\Core\UnusableInput;

/**
 * What is sealed is not as it was sealed: cut short, changed, of something else, or under another key. Which of these
 * nobody can tell, and that is meant so.
 */
final class SealBroken extends UnusableInput
{
    /** @param string $where what it is of */
    public static function at(string $where): self
    {
        return new self('seal_broken', ['where' => $where]);
    }
}
