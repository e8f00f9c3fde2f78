<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Messenger\Format;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\LocalBackups;
use Geschenk\Core\Messenger\ReadingHere;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\ContentFiles;
use Geschenk\Core\Store\Lines\LinesReader;
use Geschenk\Core\Store\StoreSchema;
use Geschenk\Core\UnusableInput;

/**
 * Chats at a path on this computer, whatever form they have: a messenger's data folder, a backup, a chat store,
 * chats as JSON Lines.
 */
final class ChatSource
{
    private function __construct(
        public readonly ChatStore $chats,
        public readonly ?AttachmentFiles $files,
        public readonly ?Format $format,
        /** "data_folder", "local_backup", "backup", "chat_store" or "chat_lines" */
        public readonly string $form,
        // @phpstan-ignore property.onlyWritten (it holds the scratch store for as long as this object lives)
        private readonly ?ScratchFolder $scratch = null,
    ) {
    }

    /**
     * @param bool           $hash whether the attachments' contents are needed, or only their presence
     * @param BackupKey|null $key  opens a messenger's own backup that is locked
     *
     * @throws UnusableInput
     */
    public static function open(
        string $path,
        Formats $formats,
        bool $hash,
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
            if (!$format instanceof LocalBackups) {
                continue;
            }
            // A database that lies open beside it is the newer one.
            $own = is_dir($path) ? self::localBackup($path, $format) : $path;
            if (null !== $own && $format->isLocalBackup($own)) {
                $reading->unpack($own, $key, $scratch->path.'/unpacked', $own);
                // The attachments lie beside it as they do beside the database.
                $found = $reading->read(
                    $scratch->path.'/unpacked', new FolderFiles(dirname($own), $hash), $store, new NoProgress(), $own,
                );

                return new self(
                    $chats = new ChatStore($store), new ContentFiles(new FolderFiles(dirname($own)), $chats), $found,
                    'local_backup', $scratch,
                );
            }
        }
        if (is_file($path)) {
            $reading->takeOver($path, $store, new NoProgress());

            return new self(
                $chats = new ChatStore($store), null, self::formatOf($chats, $formats),
                LinesReader::recognises($path) ? 'chat_lines' : 'chat_store', $scratch,
            );
        }
        if (SealedBag::recognises($path)) {
            throw UnusableInput::sealedElsewhere($path);
        }
        if (Bag::recognises($path)) {
            Bag::validate($path);
            $bag = new Workplace($path);
            $reading->takeOver($bag->chats(), $store, new NoProgress());
            $chats = new ChatStore($store);

            return new self(
                $chats, new ContentFiles(new FolderFiles($bag->raw()), $chats), self::formatOf($chats, $formats),
                'backup', $scratch,
            );
        }
        $found = $reading->read($path, new FolderFiles($path, $hash), $store, new NoProgress());

        $chats = new ChatStore($store);

        return new self($chats, new ContentFiles(new FolderFiles($path), $chats), $found, 'data_folder', $scratch);
    }

    /**
     * Of one that a vault keeps.
     *
     * @throws UnusableInput
     */
    public static function ofBackup(OpenBackup $backup, Formats $formats): self
    {
        $chats = $backup->chats();

        return new self($chats, $backup->files(), self::formatOf($chats, $formats), 'backup');
    }

    /** The file with the chats of a messenger's own backup that a folder is, or that lies in it as on the phone. */
    private static function localBackup(string $folder, Format&LocalBackups $format): ?string
    {
        if ([] === $format->chatFiles()->in($folder)) {
            foreach ($format->localBackupPlaces() as $place) {
                if (is_file($folder.'/'.basename($place))) {
                    return $folder.'/'.basename($place);
                }
            }
        }

        return null;
    }

    private static function formatOf(ChatStore $chats, Formats $formats): ?Format
    {
        $source = $chats->source();

        return $formats->writing($source->messenger, $source->platform);
    }
}
