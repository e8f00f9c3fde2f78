<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Progress;
use Geschenk\Core\Seal\KeyFailure;
use Geschenk\Core\UnusableInput;

/**
 * Where backups are kept, each under its id. How they lie there is its own affair: whoever wants what is in one opens
 * it. What is being made lies open in its workplace until it is kept.
 */
interface Vault
{
    /**
     * Where one is made, or gone on with.
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function workplace(string $id): Workplace;

    public function isKept(string $id): bool;

    /**
     * Puts what lies packed in its workplace among the others: read back from the disk, all of it or nothing. Nothing
     * of it is left in the workplace then.
     *
     * @throws UnusableInput when it is not as it was packed
     * @throws KeyFailure    where there is none that it could be sealed with
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function keep(string $id, Progress $progress = new NoProgress()): void;

    /**
     * Reads it back from the disk to the last byte; leaves nothing, wherever its progress stops it.
     *
     * @throws UnusableInput when anything of it is missing, changed or added
     * @throws KeyFailure    where there is no key for it
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function verify(string $id, Progress $progress = new NoProgress()): void;

    /**
     * @throws UnusableInput when it is not there, or is not as it was written
     * @throws KeyFailure    where there is no key for it
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function open(string $id): OpenBackup;

    /**
     * What is kept beside the payload of a backup, and goes with it.
     *
     * @param string $name of the folder that it is in
     */
    public function tagFiles(string $id, string $name): TagFiles;

    /** @return list<string> folders with all that there is of it, kept or only begun; they need not be there */
    public function places(string $id): array;

    /**
     * Removes all of it, or says that it can't.
     *
     * @return int bytes of its files
     *
     * @throws DiskFailure
     */
    public function discard(string $id): int;

    /**
     * Removes what was begun and never came to its end, or says that it can't.
     *
     * @return int bytes of its files
     *
     * @throws DiskFailure
     */
    public function discardBegun(string $id): int;

    /**
     * Waits until what was removed is gone from the disk, names and all.
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function sync(): void;

    /** Bytes that are free where it is; null where nobody can tell. */
    public function freeBytes(): ?int;
}
