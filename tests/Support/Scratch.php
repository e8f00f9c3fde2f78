<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support;

use Geschenk\Core\Files\Durable\ScratchFolder;
use PHPUnit\Framework\Attributes\After;

/** A folder for one test. */
trait Scratch
{
    private ?ScratchFolder $scratch = null;

    private function path(string $name = ''): string
    {
        $this->scratch ??= ScratchFolder::make();

        return '' === $name ? $this->scratch->path : $this->scratch->path.'/'.$name;
    }

    #[After]
    protected function removeScratch(): void
    {
        $this->scratch?->remove();
        $this->scratch = null;
    }
}
