<?php

declare(strict_types=1);

namespace Geschenk\Core\Sqlite;

use Geschenk\Core\Files\Durable\ScratchFolder;

/** A foreign database as it was copied, with its log brought in: nothing is done to the one that came. */
final readonly class ForeignCopy
{
    /**
     * @param string $origin      path of what it is a copy of
     * @param string $path        of the copy
     * @param int    $bytesBehind behind the last page
     */
    public function __construct(
        public ScratchFolder $scratch,
        public string $origin,
        public string $path,
        public LogReading $log,
        public int $bytesBehind,
    ) {
    }

    /** Another file beside it, with what could be saved of it. */
    public function savedIn(string $path): self
    {
        return new self($this->scratch, $this->origin, $path, $this->log, $this->bytesBehind);
    }
}
