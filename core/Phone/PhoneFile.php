<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

final readonly class PhoneFile
{
    /**
     * @param string $changed   opaque mark that differs when the file was written to
     * @param int    $changedAt when that was, in whole seconds since 1970 UTC: a mark of this very second is not to be
     * relied on
     */
    public function __construct(public string $path, public int $bytes, public string $changed, public int $changedAt)
    {
    }

    /** Whether nobody wrote to it in between. */
    public function isSameAs(?self $other): bool
    {
        return null !== $other && [$this->path, $this->bytes, $this->changed, $this->changedAt]
            === [$other->path, $other->bytes, $other->changed, $other->changedAt];
    }
}
