<?php

declare(strict_types=1);

namespace Geschenk\Core\Import;

use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\Transfer\Fetched;

/** Chats that lie in one file of a form of ours; attachments are found by their content. */
abstract readonly class ChatsInAFile implements Importer
{
    public function mayHoldOthers(): bool
    {
        return false;
    }

    public function lock(string $path): BackupLock
    {
        return BackupLock::Open;
    }

    public function bytes(string $path): int
    {
        return (int) @filesize($path);
    }

    public function fetch(Carried $carried): Fetched
    {
        $files = new CarriedFiles($carried, new Below(''));
        $carried->progress->phase('pulling_files');
        [$here] = $files->keep($carried->path, basename($carried->path));

        return new CarriedStore($here, $files, (new ByContent($carried, $files))->bring(...));
    }
}
