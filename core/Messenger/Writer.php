<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\ChatStore;

interface Writer
{
    /**
     * Writes all that a chat store means to carry (everything but Fate::LeftOut) as a messenger's data folder.
     *
     * @param AttachmentFiles $files  where the store's attachments are found under their paths
     * @param string          $folder must not exist yet
     */
    public function write(ChatStore $chats, AttachmentFiles $files, string $folder, Progress $progress): void;
}
