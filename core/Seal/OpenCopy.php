<?php

declare(strict_types=1);

namespace Geschenk\Core\Seal;

use Geschenk\Core\Files\Durable\ScratchFolder;

/** A sealed file that lies unsealed in memory, for as long as this is in somebody's hands. */
final readonly class OpenCopy
{
    public function __construct(public string $path, private ScratchFolder $scratch)
    {
    }

    /** Where it lies, among others of whoever has it. */
    public function folder(): string
    {
        return $this->scratch->path;
    }
}
