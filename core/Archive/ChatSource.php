<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

use Geschenk\Core\Files\AttachmentFiles;
use Geschenk\Core\Files\FolderFiles;
use Geschenk\Core\Files\ScratchFolder;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Messenger\Format;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\ReadingHere;
use Geschenk\Core\Messenger\SealedBackups;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\ContentFiles;
use Geschenk\Core\Store\Schema as StoreSchema;
use Geschenk\Core\UnusableInput;

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
    public static function open(
        string $path,
        Formats $formats,
        bool $hash,
        Progress $progress,
        ?BackupKey $key = null,
        ChatReading $reading = new ReadingHere(),
    ): self {
        $path = '/' === $path ? $path : rtrim($path, '/');
        if (!file_exists($path)) {
            throw UnusableInput::notThere($path);
        }
        $scratch = ScratchFolder::make();
        $store = $scratch->path.'/'.StoreSchema::FILE_NAME;
        foreach ($formats->all() as $format) {
            // A database that lies open beside its sealed backup is the newer one.
            $sealed = is_dir($path) && [] === $format->chatFiles()->in($path)
                && $format instanceof SealedBackups
                ? $path.'/'.$format->sealedFile()
                : $path;
            if ($format instanceof SealedBackups && $format->isSealed($sealed)) {
                $reading->unseal(
                    $sealed, $key ?? throw UnusableInput::sealedNeedsKey($sealed), $scratch->path.'/unsealed', $sealed,
                );
                // The attachments lie beside the sealed backup as they do beside the database.
                $found = $reading->read(
                    $scratch->path.'/unsealed', new FolderFiles(dirname($sealed), $hash), $store, $progress, $sealed,
                );

                return new self(
                    $chats = new ChatStore($store), new ContentFiles(new FolderFiles(dirname($sealed)), $chats), $found,
                    'sealed_backup', $scratch,
                );
            }
        }
        if (is_file($path)) {
            $reading->takeOver($path, $store, $progress);

            return new self(
                $chats = new ChatStore($store), null, self::formatOf($chats, $formats), 'chat_store', $scratch,
            );
        }
        if (Backup::recognises($path)) {
            $backup = new Backup($path);
            $backup->verify();
            $reading->takeOver($backup->chatsPath(), $store, $progress);
            $chats = new ChatStore($store);

            return new self($chats, $backup->files(), self::formatOf($chats, $formats), 'backup', $scratch);
        }
        $found = $reading->read($path, new FolderFiles($path, $hash), $store, $progress);

        $chats = new ChatStore($store);

        return new self($chats, new ContentFiles(new FolderFiles($path), $chats), $found, 'data_folder', $scratch);
    }

    private static function formatOf(ChatStore $chats, Formats $formats): ?Format
    {
        $source = $chats->source();

        return $formats->writing($source->messenger, $source->platform);
    }
}
