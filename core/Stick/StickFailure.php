<?php

declare(strict_types=1);

namespace Geschenk\Core\Stick;

use Geschenk\Core\Failure;

/** The stick does not do what was asked, and not for want of room. */
final class StickFailure extends Failure
{
    /** @param string $act what was tried: write, read, make, rename, … */
    public static function at(string $label, string $act, string $path, string $why): self
    {
        return new self('stick_failure', ['stick' => $label, 'act' => $act, 'path' => $path, 'why' => $why]);
    }

    /** What was written is not what is read. */
    public static function altered(string $label, string $path): self
    {
        return new self('stick_altered', ['stick' => $label, 'path' => $path]);
    }
}
