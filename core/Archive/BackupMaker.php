<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

use Geschenk\Core\Files\Folder;
use Geschenk\Core\Files\FolderFiles;
use Geschenk\Core\Files\ScratchFolder;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\UnusableInput;
use Geschenk\Core\Phone\PhoneChats;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\Schema as StoreSchema;
use Geschenk\Core\Store\StoreWriter;

/**
 * Takes a backup of one messenger from one phone: the raw files as pulled and the chats read out of them, sealed as a
 * bag. Called again after an interruption it goes on where it was; the bag appears under its name when it is whole.
 */
final class BackupMaker
{
    public const RAW = 'data/raw';

    public function __construct(private readonly Formats $formats)
    {
    }

    /**
     * @param string                $target folder of the finished backup; work goes on in "<target>.part"
     * @param array<string, string> $info   further lines of bag-info.txt
     * @param BackupKey|null        $key    opens a sealed backup, where the phone holds its chats in nothing else
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws UnusableInput
     */
    public function make(PhoneLink $link, string $app, string $target, array $info, Progress $progress, ?BackupKey $key = null): void
    {
        if (is_dir($target)) {
            return;
        }
        $work = $target.'.part';
        Folder::make($work.'/'.self::RAW);
        $journal = new PullJournal($work.'/pull.sqlite');
        $progress->phase('listing');
        $chats = new PhoneChats($this->formats);
        $sealed = $chats->sealed($link, $app);
        $apart = [...array_merge(...array_map(static fn ($format): array => $format->databaseFiles(), $this->formats->all())), ...(null === $sealed ? [] : [$sealed->path])];
        $journal->begin();
        foreach ($link->files($app) as $file) {
            if (Folder::staysInside($file->path) && !in_array($file->path, $apart, true)) {
                $journal->listed($file->path, $file->bytes, $file->changed);
                $progress->advance(1);
            }
        }
        $journal->commit();
        // The database first: whatever its rows name was on the phone at that moment.
        $progress->phase('pulling');
        $onBytes = static fn (int $bytes) => $progress->advance(0, $bytes);
        $raw = $work.'/'.self::RAW;
        if (null === $sealed) {
            $chats->pullDatabase($link, $app, $raw, $onBytes);
        } else {
            // Opened before anything else is pulled, so that a wrong key shows at once; its database is not kept.
            $unsealed = ScratchFolder::make();
            $chats->pullSealed($link, $app, $sealed, $key ?? throw UnusableInput::sealedOnPhone(), $raw, $unsealed->path, $onBytes);
        }
        $this->pullAttachments($link, $app, $work, $journal, $progress);
        $this->read($work, $unsealed->path ?? $raw, $journal, $progress);
        $this->seal($work, $journal, $info, $progress);
        $journal->close();
        foreach ([...(glob($work.'/pull.sqlite*') ?: []), $work.'/piece'] as $leftover) {
            @unlink($leftover);
        }
        if (!rename($work, $target)) {
            throw new \RuntimeException(sprintf('The backup could not be put in place at %s.', $target));
        }
    }

    private function pullAttachments(PhoneLink $link, string $app, string $work, PullJournal $journal, Progress $progress): void
    {
        $totals = $journal->totals();
        $progress->phase('pulling', $totals['items'], $totals['bytes']);
        $progress->advance($totals['items_done'], $totals['bytes_done']);
        while ([] !== ($waiting = $journal->waiting())) {
            foreach ($waiting as $file) {
                try {
                    $pulled = PhoneChats::pullFile($link, $app, $file['path'], $work.'/'.self::RAW.'/'.$file['path'], $work.'/piece', static fn (int $bytes) => $progress->advance(0, $bytes));
                    $journal->pulled($file['path'], $pulled['sha256']);
                } catch (PhoneRefuses $refusal) {
                    if (null !== $link->file($app, $file['path'])) {
                        throw $refusal;
                    }
                    // Deleted on the phone since it was listed; the reader will find its row without a file and say so.
                    $journal->forget($file['path']);
                }
                $progress->advance(1);
            }
        }
    }

    /** @param string $database folder that the database lies in */
    private function read(string $work, string $database, PullJournal $journal, Progress $progress): void
    {
        $raw = $work.'/'.self::RAW;
        $path = $work.'/data/'.StoreSchema::FILE_NAME;
        @unlink($path);
        $format = $this->formats->detect($database) ?? throw UnusableInput::notMessengerData($database);
        $store = new StoreWriter($path);
        $format->reader()->read($database, new FolderFiles($raw, true, $journal->hash(...)), $store, $progress);
        $store->finish();
    }

    /** @param array<string, string> $info */
    private function seal(string $work, PullJournal $journal, array $info, Progress $progress): void
    {
        $totals = $journal->totals();
        $progress->phase('sealing', $totals['items'], $totals['bytes']);
        $prefix = self::RAW.'/';
        Bag::seal(
            $work,
            $info,
            static fn (string $path): ?string => str_starts_with($path, $prefix) ? $journal->hash(substr($path, strlen($prefix))) : null,
            static fn (int $bytes) => $progress->advance(1, $bytes),
        );
    }
}
