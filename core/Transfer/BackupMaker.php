<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Archive\Bag;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Archive\Workplace;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Hindrance;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\StoreEditor;
use Geschenk\Core\UnusableInput;

/**
 * Takes a backup of one messenger from one phone: the raw files as pulled and the chats read out of them, packed as a
 * bag. Called again after an interruption it goes on where it was; the vault has it when all of it is on the disk and
 * was read back.
 */
final class BackupMaker
{
    private const NAMED = 20;
    /** Label in bag-info.txt: what the phone's data was marked with while it was copied. */
    public const MARK = 'Phone-Mark';

    public function __construct(private readonly ChatReading $reading, private readonly Vault $vault)
    {
    }

    /**
     * @param string                $id   of the backup in the vault
     * @param array<string, string> $info further lines of bag-info.txt
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws UnusableInput
     * @throws RestoreRefused where all was wanted, and the phone can't read a file to its end
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function make(WayIn $way, Taking $taking, string $id, array $info, Progress $progress): void
    {
        $this->makeOf(static fn (Workplace $place, PullJournal $journal): Fetched => $way->fetch(
            new Fetching($taking, $place, $journal, $progress),
        ), $id, $info, $progress);
    }

    /**
     * The same of what comes over no cable.
     *
     * @param \Closure(Workplace, PullJournal): Fetched $fetch
     * @param string                                    $id    of the backup in the vault
     * @param array<string, string>                     $info  further lines of bag-info.txt
     *
     * @throws Hindrance
     * @throws UnusableInput
     * @throws RestoreRefused
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function makeOf(\Closure $fetch, string $id, array $info, Progress $progress): void
    {
        if ($this->vault->isKept($id)) {
            // Put in place by a run that was killed before it could say so.
            $this->vault->verify($id);
            $this->vault->discardBegun($id);

            return;
        }
        $place = $this->vault->workplace($id);
        $progress->phase('listing');
        $journal = new PullJournal($place->journal());
        try {
            $journal->believeOnlyWhatIsIn($place->raw());
            self::removeUnnoted($place->raw(), $journal);
            $fetched = $fetch($place, $journal);
            $this->read($place, $fetched, $journal, $progress);
            $this->pack($place, $journal, [
                ...$info, ...('' === $fetched->mark ? [] : [self::MARK => $fetched->mark]),
            ], $progress);
        } finally {
            // Whoever goes on finds it free, whatever else is still held of what was stopped.
            $journal->close();
        }
        $piece = $place->piece();
        foreach ([...(glob($place->journal().'*') ?: []), $piece, Pull::begun($piece)] as $leftover) {
            if (is_file($leftover) && !unlink($leftover)) {
                throw DiskFailure::at('remove', $leftover);
            }
        }
        Disk::syncNames($place->folder);
        $this->vault->keep($id, $progress);
    }

    /** What had come and was not noted when the process ended: nobody knows how much of it is on the disk. */
    private static function removeUnnoted(string $raw, PullJournal $journal): void
    {
        foreach (Folder::files($raw) as $path) {
            if (null === $journal->hash($path) && !unlink($raw.'/'.$path)) {
                throw DiskFailure::at('remove', $raw.'/'.$path);
            }
        }
    }

    private function read(Workplace $place, Fetched $fetched, PullJournal $journal, Progress $progress): void
    {
        $path = $place->chats();
        foreach ([$path, $path.'.part'] as $leftover) {
            if (is_file($leftover) && !unlink($leftover)) {
                throw DiskFailure::at('remove', $leftover);
            }
        }
        $fetched->read($this->reading, new PulledFiles($place->raw(), $journal), $path, $progress);
        // Some files come only as they are met among the chats.
        $unreadable = array_values(array_column([...$fetched->unreadable, ...$journal->allUnreadable()], null, 'path'));
        foreach (array_slice($unreadable, 0, self::NAMED) as $file) {
            StoreEditor::addFinding(
                $path, 'file_unreadable', $file['path'], sprintf('%d of %d bytes', $file['readable'], $file['bytes']),
            );
        }
        if (count($unreadable) > self::NAMED) {
            StoreEditor::addFinding($path, 'file_unreadable', 'further files', null, count($unreadable) - self::NAMED);
        }
        Disk::sync($path);
    }

    /** @param array<string, string> $info */
    private function pack(Workplace $place, PullJournal $journal, array $info, Progress $progress): void
    {
        $work = $place->folder;
        $items = $bytes = 0;
        foreach (Folder::files($work, Bag::PAYLOAD) as $path) {
            ++$items;
            $bytes += (int) filesize($work.'/'.$path);
        }
        $progress->phase('packing', $items, $bytes);
        $prefix = Workplace::RAW.'/';
        Bag::pack(
            $work,
            $info,
            static fn (string $path): ?string => str_starts_with($path, $prefix)
                ? $journal->hash(substr($path, strlen($prefix)))
                : null,
            static fn (int $bytes) => $progress->advance(1, $bytes),
        );
    }
}
