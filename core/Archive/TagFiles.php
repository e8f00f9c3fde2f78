<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\UnusableInput;

/**
 * Small files in a folder beside the payload of a bag (RFC 8493, 2.2.4): they can come after it was packed, and go with
 * it.
 */
interface TagFiles
{
    /**
     * @return string|null null where there is none of that name
     *
     * @throws UnusableInput when it can't be read as it was written
     * @throws DiskFailure
     */
    public function get(string $name): ?string;

    /**
     * Puts one there, or another in its place; it is on the disk then.
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function put(string $name, string $text): void;

    /**
     * Removes all but some.
     *
     * @param list<string> $names of those that stay
     */
    public function keepOnly(array $names): void;
}
