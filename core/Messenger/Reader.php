<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Core\UnusableInput;

interface Reader
{
    /**
     * Reads all chats of a data folder into a chat store, as a stream. The caller finishes the store.
     *
     * @param string          $folder holds the database files; they are not changed
     * @param AttachmentFiles $files  holds the attachments, here or elsewhere
     *
     * @throws UnusableInput
     */
    public function read(string $folder, AttachmentFiles $files, StoreWriter $store, Progress $progress): void;
}
