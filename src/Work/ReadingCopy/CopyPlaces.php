<?php

declare(strict_types=1);

namespace Geschenk\App\Work\ReadingCopy;

use Geschenk\App\DataFolder;
use Geschenk\App\Files\MemoryFirst;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/** Where a copy for reading is made and waits for its stick, by the id of its run; what was in memory is made anew. */
final readonly class CopyPlaces extends MemoryFirst
{
    /** @param string $memory folder that is in memory */
    public function __construct(DataFolder $data, #[Autowire('%env(GESCHENK_MEMORY)%')] string $memory)
    {
        parent::__construct($memory, 'reading', $data->readingCopies());
    }
}
