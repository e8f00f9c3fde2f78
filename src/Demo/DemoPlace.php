<?php

declare(strict_types=1);

namespace Geschenk\App\Demo;

use Geschenk\App\SecondPlace\PlaceInUse;
use Geschenk\Standin\Place\SecondDisk;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/** The second place of a demonstration: its stand-in disk, where nobody has named another. */
final readonly class DemoPlace
{
    /** @param string $told an address that somebody has named, "" where nobody has */
    public function __construct(
        private SecondDisk $disk,
        #[Autowire('%env(GESCHENK_SECOND_PLACE)%')] #[\SensitiveParameter]
        private string $told,
    ) {
    }

    public function inUse(): PlaceInUse
    {
        return new PlaceInUse('' === $this->told && $this->disk->isMade() ? $this->disk->path() : $this->told);
    }
}
