<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

use Geschenk\Core\Failure;

/** The phone has the file and can't read it to its end; what came before is in the stream. */
final class FileUnreadable extends Failure
{
    /** @param int $bytes that came */
    public static function of(string $path, int $bytes, int $listed): self
    {
        return new self('file_unreadable', ['path' => $path, 'bytes' => $bytes, 'listed' => $listed]);
    }

    /** Bytes that came. */
    public function bytes(): int
    {
        return (int) $this->fields['bytes'];
    }
}
