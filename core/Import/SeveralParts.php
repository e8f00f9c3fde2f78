<?php

declare(strict_types=1);

namespace Geschenk\Core\Import;

use Geschenk\Core\UnusableInput;

/** Nobody can tell which of several things is meant: it goes on once somebody says so. */
final class SeveralParts extends UnusableInput
{
    public const REASON = 'several_parts';

    /** @var list<Part> */
    private array $parts = [];

    /** @param list<Part> $parts */
    public static function of(array $parts): self
    {
        $several = new self(self::REASON, ['count' => count($parts)]);
        $several->parts = $parts;

        return $several;
    }

    /** @return list<Part> */
    public function parts(): array
    {
        return $this->parts;
    }
}
