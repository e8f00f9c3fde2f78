<?php

declare(strict_types=1);

namespace Geschenk\App\Bench;

use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneUnplugged;

/** A bench without a cable: what a shop has until an adapter for real phones is wired in its place. */
final class NoPhones implements PhoneDirectory
{
    public function serials(): array
    {
        return [];
    }

    public function link(string $serial): PhoneLink
    {
        throw PhoneUnplugged::of($serial);
    }
}
