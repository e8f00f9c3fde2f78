<?php

declare(strict_types=1);

namespace Geschenk\Core\Import;

use Geschenk\Core\Messenger\BackupLock;

/** Something on a stick that can be imported, as it is told from outside. */
final readonly class Found
{
    /**
     * @param string          $path      below the root
     * @param string          $sort      name of its Importer; Importers::ZIP for an archive that may hold anything
     * @param int             $bytes     of what holds the chats, as far as that is told
     * @param int             $changedAt s since 1970 UTC, by the clock of whoever wrote it
     * @param BackupLock|null $lock      null when it is of no known sort
     */
    public function __construct(
        public string $path,
        public string $sort,
        public int $bytes,
        public int $changedAt,
        public ?BackupLock $lock,
    ) {
    }
}
