<?php

declare(strict_types=1);

namespace Geschenk\Core\Import;

/** What was said when it was asked which of several things is meant. */
final readonly class Chosen
{
    /** @param list<string> $ids of parts; an archive may hold several things, and each of them several */
    public function __construct(private array $ids = [])
    {
    }

    /**
     * @param non-empty-list<Part> $parts
     *
     * @throws SeveralParts where that was not said yet
     */
    public function of(array $parts): Part
    {
        foreach ($parts as $part) {
            if (in_array($part->id, $this->ids, true)) {
                return $part;
            }
        }

        return 1 === count($parts) ? $parts[0] : throw SeveralParts::of($parts);
    }
}
