<?php

declare(strict_types=1);

namespace Geschenk\Core\Import\ChatLines;

use Geschenk\Core\Import\ByContent;
use Geschenk\Core\Import\Carried;
use Geschenk\Core\Import\CarriedFiles;
use Geschenk\Core\Import\CarriedStore;
use Geschenk\Core\Import\Importer;
use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\Store\Lines\LinesReader;
use Geschenk\Core\Transfer\Fetched;

/** Chats as JSON Lines (docs/formats/chat-lines.md); attachments are found by their content. */
final readonly class ChatLinesImporter implements Importer
{
    public static function name(): string
    {
        return 'chat_lines';
    }

    public function recognises(string $path): bool
    {
        return LinesReader::recognises($path);
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
