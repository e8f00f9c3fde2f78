<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Durable;

use Geschenk\Core\Failure;

/** This computer's disk does not do what was asked, and not for want of space. */
final class DiskFailure extends Failure
{
    /** @param string $act what was tried: read, write, make, remove, rename, copy, sync, … */
    public static function at(string $act, string $path, ?string $warning = null): self
    {
        $why = preg_replace('/^\w+\(.*?\): /', '', $warning ?? '') ?? '';

        return new self('disk_failure', ['act' => $act, 'path' => $path, 'why' => $why]);
    }
}
