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
        /** "data_folder", "backup" or "chat_store" */
        public readonly string $form,
        // @phpstan-ignore property.onlyWritten (it holds the scratch store for as long as this object lives)
        private readonly ?ScratchFolder $scratch = null,
    ) {
    }

    /**
     * @param bool $hash whether the attachments' contents are needed, or only their presence
     *
     * @throws UnusableInput
     */
    public static function open(string $path, Formats $formats, bool $hash, Progress $progress): self
    {
        $path = '/' === $path ? $path : rtrim($path, '/');
        if (!file_exists($path)) {
            throw UnusableInput::notThere($path);
        }
        if (is_file($path)) {
            return new self($chats = new ChatStore($path), null, self::formatOf($chats, $formats), 'chat_store');
        }
        if (Bag::recognises($path)) {
            Bag::validate($path);
            $chats = new ChatStore($path.'/data/'.StoreSchema::FILE_NAME);

            return new self($chats, new FolderFiles($path.'/'.BackupMaker::RAW), self::formatOf($chats, $formats), 'backup');
        }
        $format = $formats->detect($path) ?? throw UnusableInput::notMessengerData($path);
        $scratch = ScratchFolder::make();
        $writer = new StoreWriter($scratch->path.'/'.StoreSchema::FILE_NAME);
        $format->reader()->read($path, new FolderFiles($path, $hash), $writer, $progress);
        $writer->finish();

        return new self(new ChatStore($scratch->path.'/'.StoreSchema::FILE_NAME), new FolderFiles($path), $format, 'data_folder', $scratch);
    }

    private static function formatOf(ChatStore $chats, Formats $formats): ?Format
    {
        $source = $chats->source();

        return $formats->find($source->messenger, $source->platform);
    }
}
