<?php

declare(strict_types=1);

namespace Geschenk\Core\Files;

/** This computer's disk does not do what was asked, and not for want of space. */
final class DiskFailure extends \RuntimeException
{
    /** @param string $act what was tried, for instance "read" */
    public function __construct(public readonly string $act, public readonly string $path, ?string $warning = null)
    {
        $why = preg_replace('/^\w+\(.*?\): /', '', $warning ?? '') ?? '';
        parent::__construct(sprintf('This computer could not %s %s%s. Look at its disk and its permissions, then go on.', $act, $path, '' === $why ? '' : ' ('.$why.')'));
    }
}
