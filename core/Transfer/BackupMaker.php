<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Archive\Backup;
use Geschenk\Core\Archive\Bag;
use Geschenk\Core\Files\Disk;
use Geschenk\Core\Files\DiskFailure;
use Geschenk\Core\Files\DiskFull;
use Geschenk\Core\Files\Folder;
use Geschenk\Core\Files\ScratchFolder;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\LocalBackup;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\StoreEditor;
use Geschenk\Core\UnusableInput;

/**
 * Takes a backup of one messenger from one phone: the raw files as pulled and the chats read out of them, packed as a
 * bag. Called again after an interruption it goes on where it was; the bag appears under its name when all of it is on
 * the disk and was read back.
 */
final class BackupMaker
{
    /** How often a phone may change under our hands until somebody has to close the messenger. */
    private const ROUNDS = 5;
    private const NAMED = 20;
    /** Files that are waited for together. */
    private const MANY = 20;
    /** Label in bag-info.txt: what the phone's data was marked with while it was copied. */
    public const MARK = 'Phone-Mark';

    public function __construct(private readonly Formats $formats, private readonly ChatReading $reading)
    {
    }

    /**
     * @param string                $target folder of the finished backup; work goes on in "<target>.part"
     * @param array<string, string> $info   further lines of bag-info.txt
     * @param string|null           $own    the messenger's own backup to take, by the path of its file on the phone;
     *                                      null takes the chats as they are now
     * @param BackupKey|null        $key    opens it, where it is locked
     * @param bool                  $isWhole whether to take all that the app keeps, to be put back as it was
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws UnusableInput
     * @throws RestoreRefused where all was wanted, and the phone can't read a file to its end
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function make(
        PhoneLink $link,
        string $app,
        string $target,
        array $info,
        Progress $progress,
        ?string $own = null,
        ?BackupKey $key = null,
        bool $isWhole = false,
    ): void {
        if (is_dir($target)) {
            // Put in place by a run that was killed before it could say so.
            Bag::validate($target);

            return;
        }
        $work = $target.'.part';
        $raw = Folder::make($work.'/'.Backup::RAW);
        Disk::sync(dirname($target));
        $progress->phase('listing');
        $journal = new PullJournal($work.'/pull.sqlite');
        $journal->believeOnlyWhatIsIn($raw);
        self::removeUnnoted($raw, $journal);
        $chats = new PhoneChats($this->formats, $this->reading);
        $onBytes = static fn (int $bytes) => $progress->advance(0, $bytes);
        $unreadable = [];
        $mark = '';
        // Again until the database and its files fit together: a message may come in while we are at it.
        for ($round = 1;; ++$round) {
            $mark = self::mark($link, $app, $own);
            $this->list($link, $app, $chats, $own, $isWhole, $journal, $progress);
            $progress->phase('pulling');
            if (null === $own) {
                $unreadable = $chats->pullDatabase($link, $app, $raw, $onBytes);
            } else {
                // Opened before anything else is pulled, so that a wrong key shows at once; its database is not kept.
                $unpacked = ScratchFolder::make();
                $chats->pullOwn($link, $app, $own, $key, $raw, $unpacked->path, $onBytes);
            }
            $above = null === $own ? '' : LocalBackup::above($own);
            $this->pullAttachments($link, $app, $above, $work, $journal, $progress);
            if (self::mark($link, $app, $own) === $mark) {
                break;
            }
            if ($round >= self::ROUNDS) {
                throw PhoneRefuses::stillWriting();
            }
            $progress->phase('listing');
        }
        $unreadable = [...$unreadable, ...$journal->allUnreadable()];
        if ($isWhole && isset($unreadable[0])) {
            throw RestoreRefused::notCopiedWhole($unreadable[0]['path']);
        }
        $this->read($work, $unpacked->path ?? $raw, $unreadable, $journal, $progress);
        $this->pack($work, $journal, [...$info, self::MARK => $mark], $progress);
        $journal->close();
        foreach ([...(glob($work.'/pull.sqlite*') ?: []), $work.'/piece', Pull::begun($work.'/piece')] as $leftover) {
            if (is_file($leftover) && !unlink($leftover)) {
                throw DiskFailure::at('remove', $leftover);
            }
        }
        Disk::syncNames($work);
        // What is called kept was read back from the disk.
        Bag::validate($work);
        Disk::move($work, $target);
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

    /** Differs once what is taken was written to: a backup that the messenger made stays as it is. */
    private static function mark(PhoneLink $link, string $app, ?string $own): string
    {
        return null === $own ? $link->mark($app) : $link->file($app, $own)->changed ?? '';
    }

    /**
     * What belongs to messages: not the files that hold chats, which are pulled apart; and local backups only where all
     * is wanted.
     */
    private function list(
        PhoneLink $link,
        string $app,
        PhoneChats $chats,
        ?string $own,
        bool $isWhole,
        PullJournal $journal,
        Progress $progress,
    ): void {
        $above = null === $own ? '' : LocalBackup::above($own);
        $isChats = $chats->apart($link, $app);
        $isKeptApart = $chats->keptApart($link, $app);
        $ownFiles = $chats->ownFiles($link, $app);
        $journal->begin();
        foreach ($link->files($app) as $file) {
            $path = substr($file->path, strlen($above));
            $isOther = isset($ownFiles[$file->path]) || ('' === $above && $isKeptApart($path));
            if (str_starts_with($file->path, $above) && Folder::staysInside($path) && !$isChats($path)
                && ($isWhole || !$isOther)) {
                $journal->listed($path, $file->bytes, $file->changed);
                $progress->advance(1);
            }
        }
        $journal->commit();
    }

    /** @param string $above folder on the phone that their paths are of; with its slash, or empty */
    private function pullAttachments(
        PhoneLink $link,
        string $app,
        string $above,
        string $work,
        PullJournal $journal,
        Progress $progress,
    ): void {
        $totals = $journal->totals();
        $progress->phase('pulling', $totals['items'], $totals['bytes']);
        $progress->advance($totals['items_done'], $totals['bytes_done']);
        while ([] !== ($waiting = $journal->waiting())) {
            $rows = [];
            try {
                foreach ($waiting as $file) {
                    $rows[] = $this->pullAttachment($link, $app, $above, $work, $file['path'], $journal, $progress);
                    $progress->advance(1);
                }
            } finally {
                // All of them are on the disk, with their names, and only then the journal says so.
                $this->note($work, $journal, $rows);
            }
        }
    }

    /** @return array{path: string, bytes: int, sha256: string|null, gone: bool} */
    private function pullAttachment(
        PhoneLink $link,
        string $app,
        string $above,
        string $work,
        string $path,
        PullJournal $journal,
        Progress $progress,
    ): array {
        $target = $work.'/'.Backup::RAW.'/'.$path;
        try {
            $pulled = Pull::file(
                $link, $app, $above.$path, $target, $work.'/piece',
                static fn (int $bytes) => $progress->advance(0, $bytes), $journal,
            );
        } catch (PhoneRefuses $refusal) {
            if (null !== $link->file($app, $above.$path)) {
                throw $refusal;
            }

            // Deleted on the phone since it was listed; the reader will find its row without a file and say so.
            return ['path' => $path, 'bytes' => 0, 'sha256' => null, 'gone' => true];
        }
        if (!$pulled->isWhole && !unlink($target)) {
            throw DiskFailure::at('remove', $target);
        }

        return [
            'path' => $path, 'bytes' => $pulled->bytes, 'sha256' => $pulled->isWhole ? $pulled->sha256 : null,
            'gone' => false,
        ];
    }

    /** @param list<array{path: string, bytes: int, sha256: string|null, gone: bool}> $rows */
    private function note(string $work, PullJournal $journal, array $rows): void
    {
        self::waitFor($work.'/'.Backup::RAW, array_column(
            array_filter($rows, static fn (array $row): bool => null !== $row['sha256']), 'path',
        ));
        $journal->begin();
        foreach ($rows as $row) {
            match (true) {
                $row['gone'] => $journal->forget($row['path']),
                null === $row['sha256'] => $journal->unreadable($row['path'], $row['bytes']),
                default => $journal->pulled($row['path'], $row['bytes'], $row['sha256']),
            };
        }
        $journal->commit();
    }

    /**
     * Waits until files that have come are on the disk, with their names. A few are waited for one by one: together
     * means all that anybody has written there.
     *
     * @param list<string> $paths
     */
    private static function waitFor(string $raw, array $paths): void
    {
        if (count($paths) >= self::MANY) {
            Disk::syncTogether($raw);

            return;
        }
        $folders = [];
        foreach ($paths as $path) {
            Disk::sync($raw.'/'.$path);
            for ($folder = dirname($path); '.' !== $folder; $folder = dirname($folder)) {
                $folders[$folder] = $folder;
            }
        }
        foreach ($folders as $folder) {
            Disk::sync($raw.'/'.$folder);
        }
        Disk::sync($raw);
    }

    /**
     * @param string                                                     $database   folder that the database lies in
     * @param list<array{path: string, bytes: int, readable: int}> $unreadable what the phone could not read
     */
    private function read(
        string $work,
        string $database,
        array $unreadable,
        PullJournal $journal,
        Progress $progress,
    ): void {
        $path = Backup::chatsIn($work);
        foreach ([$path, $path.'.part'] as $leftover) {
            if (is_file($leftover) && !unlink($leftover)) {
                throw DiskFailure::at('remove', $leftover);
            }
        }
        $this->reading->read(
            $database, new PulledFiles($work.'/'.Backup::RAW, $journal), $path, $progress, '@phone_data',
        );
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
    private function pack(string $work, PullJournal $journal, array $info, Progress $progress): void
    {
        $items = $bytes = 0;
        foreach (Folder::files($work, Bag::PAYLOAD) as $path) {
            ++$items;
            $bytes += (int) filesize($work.'/'.$path);
        }
        $progress->phase('packing', $items, $bytes);
        $prefix = Backup::RAW.'/';
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
