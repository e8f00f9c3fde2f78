<?php

declare(strict_types=1);

namespace Geschenk\Core\Import\LocalBackup;

use Geschenk\Core\Files\Content\FileType;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Import\Below;
use Geschenk\Core\Import\Carried;
use Geschenk\Core\Import\CarriedChats;
use Geschenk\Core\Import\CarriedFiles;
use Geschenk\Core\Import\Importer;
use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\LocalBackups;
use Geschenk\Core\Transfer\Fetched;

/** A backup that a messenger made of itself: a file with the chats, locked or open, and attachments beside it. */
final readonly class LocalBackupImporter implements Importer
{
    public function __construct(private Formats $formats)
    {
    }

    public static function name(): string
    {
        return 'local_backup';
    }

    public function recognises(string $path): bool
    {
        return null !== $this->format($path);
    }

    public function mayHoldOthers(): bool
    {
        return false;
    }

    public function lock(string $path): ?BackupLock
    {
        $head = (string) @file_get_contents($path, false, null, 0, FileType::HEAD);

        return $this->format($path)?->lockOf($head);
    }

    public function bytes(string $path): int
    {
        return (int) @filesize($path);
    }

    public function fetch(Carried $carried): Fetched
    {
        $files = new CarriedFiles($carried, new Below($carried->folder()));
        $carried->progress->phase('pulling_files');
        [$here] = $files->keep($carried->path, basename($carried->path));
        $scratch = ScratchFolder::make();
        $carried->reading->unpack($here, $carried->key, $scratch->path, Carried::NAME);

        return new CarriedChats($scratch, $files);
    }

    private function format(string $path): ?LocalBackups
    {
        foreach (is_file($path) ? $this->formats->all() : [] as $format) {
            if ($format instanceof LocalBackups && $format->isLocalBackup($path)) {
                return $format;
            }
        }

        return null;
    }
}
