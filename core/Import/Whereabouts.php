<?php

declare(strict_types=1);

namespace Geschenk\Core\Import;

/** Where the files lie that a messenger knows by their paths in its data folder. */
interface Whereabouts
{
    /** @return Lying|null null where none of that path came along */
    public function of(string $path): ?Lying;
}
