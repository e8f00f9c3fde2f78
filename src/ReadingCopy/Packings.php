<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy;

use Geschenk\Core\ReadingCopy\Packing\Packing;
use Symfony\Component\DependencyInjection\Attribute\AutowireIterator;

/** The ways in which a copy is put together, found by being there. */
final readonly class Packings
{
    /** @param iterable<Packing> $packings */
    public function __construct(#[AutowireIterator('geschenk.packing')] private iterable $packings)
    {
    }

    /** @return list<Packing> */
    public function all(): array
    {
        return array_values([...$this->packings]);
    }

    public function find(string $name): ?Packing
    {
        foreach ($this->packings as $packing) {
            if ($packing::name() === $name) {
                return $packing;
            }
        }

        return null;
    }
}
