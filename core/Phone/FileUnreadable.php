<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/** The phone has the file and can't read it to its end; what came before is in the stream. */
final class FileUnreadable extends \RuntimeException
{
    /** @param int $bytes that came */
    public function __construct(public readonly string $path, public readonly int $bytes, public readonly int $listed)
    {
        parent::__construct(sprintf('The phone can read %d of the %d bytes of %s.', $bytes, $listed, $path));
    }
}
