<?php

declare(strict_types=1);

namespace Geschenk\Core\Import\DataFolder;

use Geschenk\Core\Import\Below;
use Geschenk\Core\Import\Carried;
use Geschenk\Core\Import\CarriedChats;
use Geschenk\Core\Import\CarriedFiles;
use Geschenk\Core\Import\Importer;
use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Transfer\Fetched;
use Geschenk\Core\UnusableInput;

/** A messenger's data folder, as it lay on a phone: its chats, with the attachments beside them. */
final readonly class DataFolderImporter implements Importer
{
    public function __construct(private Formats $formats)
    {
    }

    public static function name(): string
    {
        return 'data_folder';
    }

    public function recognises(string $path): bool
    {
        return is_dir($path) && [] !== $this->chatFiles($path);
    }

    public function mayHoldOthers(): bool
    {
        return true;
    }

    public function lock(string $path): BackupLock
    {
        return BackupLock::Open;
    }

    public function bytes(string $path): int
    {
        return $this->formats->chatBytes($path);
    }

    public function fetch(Carried $carried): Fetched
    {
        $files = new CarriedFiles($carried, new Below($carried->path));
        $carried->progress->phase('pulling_files');
        foreach ($this->chatFiles($carried->full()) as $path) {
            // Without the rest of them nobody knows what the chats were.
            $files->bring($path) ?? throw UnusableInput::unreadable($path);
        }
        $files->note();

        return new CarriedChats($carried->place->raw(), $files);
    }

    /** @return list<string> below the folder; several formats have the same names */
    private function chatFiles(string $path): array
    {
        $files = [];
        foreach ($this->formats->all() as $format) {
            foreach ($format->chatFiles()->in($path) as $file) {
                $files[$file] = $file;
            }
        }

        return array_values($files);
    }
}
