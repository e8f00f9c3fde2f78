<?php

declare(strict_types=1);

namespace Geschenk\Core\Import\ChatStore;

use Geschenk\Core\Import\ByContent;
use Geschenk\Core\Import\Carried;
use Geschenk\Core\Import\CarriedFiles;
use Geschenk\Core\Import\CarriedStore;
use Geschenk\Core\Import\Importer;
use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Transfer\Fetched;

/** A chat store by itself (docs/formats/chat-store.md); attachments are found by their content. */
final readonly class ChatStoreImporter implements Importer
{
    public static function name(): string
    {
        return 'chat_store';
    }

    public function recognises(string $path): bool
    {
        return is_file($path) && ChatStore::recognises($path);
    }

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
        $files = new CarriedFiles($carried, '');
        $carried->progress->phase('pulling_files');
        [$here] = $files->keep($carried->path, basename($carried->path));

        return new CarriedStore($here, $files, (new ByContent($carried, $files))->bring(...));
    }
}
