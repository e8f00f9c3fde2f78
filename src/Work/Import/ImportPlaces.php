<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Import;

use Geschenk\App\DataFolder;
use Geschenk\App\Files\MemoryFirst;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/** Where an archive that is imported is unpacked, by the id of its run; what was in memory is unpacked anew. */
final readonly class ImportPlaces extends MemoryFirst
{
    /** @param string $memory folder that is in memory */
    public function __construct(DataFolder $data, #[Autowire('%env(GESCHENK_MEMORY)%')] string $memory)
    {
        parent::__construct($memory, 'import', $data->imports());
    }
}
