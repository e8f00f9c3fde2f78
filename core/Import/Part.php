<?php

declare(strict_types=1);

namespace Geschenk\Core\Import;

/** One of several things that what is imported holds, of which one is meant. */
final readonly class Part
{
    /**
     * @param string   $id    the same whenever it is looked at
     * @param string   $name  what people know it by
     * @param string   $sort  name of its Importer
     * @param int      $bytes of it, as far as that is told
     * @param int|null $at    s since 1970 UTC: when it was made, or changed last
     */
    public function __construct(
        public string $id,
        public string $name,
        public string $sort,
        public int $bytes,
        public ?int $at,
    ) {
    }
}
