<?php

declare(strict_types=1);

namespace Geschenk\Core\Stick;

/** The sticks at the bench. */
interface Sticks
{
    /** @return list<Stick> those that are there now, by their labels */
    public function there(): array;

    /** @return Stick|null null where that was never seen; one that is not there now says so itself */
    public function find(string $id): ?Stick;
}
