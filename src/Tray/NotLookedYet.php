<?php

declare(strict_types=1);

namespace Geschenk\App\Tray;

/** A worker has been asked to look at the phone and has not answered yet. */
final class NotLookedYet extends \RuntimeException
{
    public function __construct(string $serial)
    {
        parent::__construct(sprintf('Phone %s is being looked at. That takes a moment.', $serial));
    }
}
