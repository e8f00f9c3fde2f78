<?php

declare(strict_types=1);

namespace Geschenk\Core\Import;

use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Hindrance;
use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\Transfer\Fetched;
use Geschenk\Core\UnusableInput;

/**
 * A sort of what somebody carries in on a stick, or sends as a file: chats that lay elsewhere. Each is a folder of its
 * own in core/Import, found by being there; its words are in translations/ under "import_of" by its name.
 */
interface Importer
{
    /** Names it in records: small letters and underscores, at most 20 of them. */
    public static function name(): string;

    /** Whether a file or folder is of that sort, by names and first bytes alone. */
    public function recognises(string $path): bool;

    /** Whether something else that could be imported may lie below it. */
    public function mayHoldOthers(): bool;

    /** @return BackupLock|null what it is locked with; null when it is of no known sort */
    public function lock(string $path): ?BackupLock;

    /** @return int bytes of what holds its chats, as far as that is told from outside */
    public function bytes(string $path): int;

    /**
     * Brings what holds the chats into the workplace, or goes on with it; attachments come as the chats name them.
     *
     * @throws Hindrance     while it is not there
     * @throws UnusableInput when it is not what it says it is, or its key does not open it
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function fetch(Carried $carried): Fetched;
}
