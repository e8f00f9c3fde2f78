<?php

declare(strict_types=1);

namespace Geschenk\Core\SecondPlace;

/** What was put there. */
final readonly class Placed
{
    /**
     * @param int  $bytes   of its files
     * @param int  $new     bytes of them that were not there already
     * @param bool $isThere whether it is the copy now; not where it has changed while it was read
     */
    public function __construct(
        public int $files,
        public int $bytes,
        public int $new,
        public bool $isThere,
    ) {
    }
}
