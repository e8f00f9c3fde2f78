<?php

declare(strict_types=1);

namespace Geschenk\App\Figures;

use Geschenk\App\Entity\Errand;

/** One tray that was ended, in figures; nobody's name is in it. */
final readonly class Job
{
    /**
     * @param string             $month    of the shop in which it was ended, YYYY-MM
     * @param list<string>       $gives    models of its phones that gave
     * @param list<string>       $receives models of those that received
     * @param list<string>       $editions messengers that went along
     * @param list<string>       $ways     names of the ways in by which they were backed up
     * @param array<string, int> $machine  seconds by stage that workers were at it
     * @param array<string, int> $people   seconds by stage besides, at which people were, or nobody
     * @param list<string>       $setbacks what stood in its way, each as often as it did: kind and reason
     * @param bool               $isRight  whether all of it went right at the first try
     */
    public function __construct(
        public string $month,
        public Errand $errand,
        public bool $isWithdrawn,
        public array $gives,
        public array $receives,
        public array $editions,
        public array $ways,
        public array $machine,
        public array $people,
        public array $setbacks,
        public bool $isRight,
    ) {
    }
}
