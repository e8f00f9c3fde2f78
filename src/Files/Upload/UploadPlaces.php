<?php

declare(strict_types=1);

namespace Geschenk\App\Files\Upload;

use Geschenk\App\DataFolder;
use Geschenk\App\Files\MemoryFirst;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/** Where what browsers send lies until it is imported; what was in memory has to be sent anew. */
final readonly class UploadPlaces extends MemoryFirst
{
    /** @param string $memory folder that is in memory */
    public function __construct(DataFolder $data, #[Autowire('%env(GESCHENK_MEMORY)%')] string $memory)
    {
        parent::__construct($memory, 'upload', $data->uploads());
    }
}
