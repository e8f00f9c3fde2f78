<?php

declare(strict_types=1);

namespace Geschenk\Core\Import;

/** They lie below some folder as they do below the messenger's data folder. */
final readonly class Below implements Whereabouts
{
    /** @param string $folder below the root; "" for the root */
    public function __construct(private string $folder)
    {
    }

    public function of(string $path): Lying
    {
        return new Lying('' === $this->folder ? $path : $this->folder.'/'.$path);
    }
}
