<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

use Geschenk\Core\Archive\BackupMaker;
use Geschenk\Core\Archive\Bag;
use Geschenk\Core\Files\AttachmentFiles;
use Geschenk\Core\Files\FolderFiles;
use Geschenk\Core\Files\ScratchFolder;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Schema as StoreSchema;
use Geschenk\Core\Store\StoreWriter;

/** Chats at a path on this computer, whatever form they have: a messenger's data folder, a backup, a chat store. */
final class ChatSource
{
    private function __construct(
        public readonly ChatStore $chats,
        public readonly ?AttachmentFiles $files,
        public readonly ?Format $format,
        /** "data_folder", "sealed_backup", "backup" or "chat_store" */
        public readonly string $form,
        // @phpstan-ignore property.onlyWritten (it holds the scratch store for as long as this object lives)
        private readonly ?ScratchFolder $scratch = null,
    ) {
    }

    /**
     * @param bool           $hash whether the attachments' contents are needed, or only their presence
     * @param BackupKey|null $key  opens a sealed backup
     *
     * @throws UnusableInput
     */
    public static function open(string $path, Formats $formats, bool $hash, Progress $progress, ?BackupKey $key = null): self
    {
        $path = '/' === $path ? $path : rtrim($path, '/');
        if (!file_exists($path)) {
            throw UnusableInput::notThere($path);
        }
        foreach ($formats->all() as $format) {
            // A database that lies open beside its sealed backup is the newer one.
            $sealed = is_dir($path) && !is_file($path.'/'.$format->databaseFiles()[0]) && $format instanceof SealedBackups ? $path.'/'.$format->sealedFile() : $path;
            if ($format instanceof SealedBackups && $format->isSealed($sealed)) {
                return self::openSealed($format, $sealed, $formats, $hash, $progress, $key ?? throw UnusableInput::sealedNeedsKey($sealed));
            }
        }
        if (is_file($path)) {
            return new self($chats = new ChatStore($path, check: true), null, self::formatOf($chats, $formats), 'chat_store');
        }
        if (Bag::recognises($path)) {
            Bag::validate($path);
            $chats = new ChatStore($path.'/data/'.StoreSchema::FILE_NAME, check: true);

            return new self($chats, new FolderFiles($path.'/'.BackupMaker::RAW), self::formatOf($chats, $formats), 'backup');
        }
        $format = $formats->detect($path) ?? throw UnusableInput::notMessengerData($path);
        $scratch = ScratchFolder::make();
        $writer = new StoreWriter($scratch->path.'/'.StoreSchema::FILE_NAME);
        $format->reader()->read($path, new FolderFiles($path, $hash), $writer, $progress);
        $writer->finish();

        return new self(new ChatStore($scratch->path.'/'.StoreSchema::FILE_NAME), new FolderFiles($path), $format, 'data_folder', $scratch);
    }

    /** The attachments lie beside the sealed backup as they do beside the database. */
    private static function openSealed(SealedBackups $seals, string $sealed, Formats $formats, bool $hash, Progress $progress, BackupKey $key): self
    {
        $scratch = ScratchFolder::make();
        $seals->unseal($sealed, $key, $scratch->path);
        $format = $formats->detect($scratch->path) ?? throw UnusableInput::notMessengerData($sealed);
        $writer = new StoreWriter($scratch->path.'/'.StoreSchema::FILE_NAME);
        $format->reader()->read($scratch->path, new FolderFiles(dirname($sealed), $hash), $writer, $progress);
        $writer->finish();

        return new self(new ChatStore($scratch->path.'/'.StoreSchema::FILE_NAME), new FolderFiles(dirname($sealed)), $format, 'sealed_backup', $scratch);
    }

    private static function formatOf(ChatStore $chats, Formats $formats): ?Format
    {
        $source = $chats->source();

        return $formats->writing($source->messenger, $source->platform);
    }
}
