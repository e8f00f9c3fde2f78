<?php

declare(strict_types=1);

namespace Geschenk\App\Files;

use Geschenk\App\DataFolder;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/** Where what a run converts or reads back lies open while it is at it; then it is sealed. */
final readonly class WorkingPlaces extends MemoryFirst
{
    /** @param string $memory folder that is in memory */
    public function __construct(DataFolder $data, #[Autowire('%env(GESCHENK_MEMORY)%')] string $memory)
    {
        parent::__construct($memory, 'working', $data->workings());
    }
}
