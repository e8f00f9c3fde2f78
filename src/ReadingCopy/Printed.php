<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy;

use Geschenk\App\Entity\ReadingCopy;

/**
 * What was laid out for paper, by which a page is known again: of each file what its messages hash to, and no word.
 *
 * @phpstan-import-type Part from ReadingCopy
 */
final class Printed
{
    /** @var list<Part> */
    private array $parts = [];

    /** @param Part $part times in milliseconds since 1970 UTC */
    public function note(array $part): void
    {
        $this->parts[] = $part;
    }

    /** @return list<Part> */
    public function parts(): array
    {
        return $this->parts;
    }
}
