<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

final readonly class PhoneFile
{
    /** @param string $changed opaque mark that differs when the file was written to */
    public function __construct(public string $path, public int $bytes, public string $changed)
    {
    }
}
