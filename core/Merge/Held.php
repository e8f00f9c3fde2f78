<?php

declare(strict_types=1);

namespace Geschenk\Core\Merge;

use Geschenk\Core\Files\AttachmentFiles;
use Geschenk\Core\Store\ChatStore;

/** What the receiving phone holds before anything is brought to it: its chats and their files, as they were copied. */
final readonly class Held
{
    /** @param bool $isRepair whether it was brought from the same backup, and something of it is not as it was meant */
    public function __construct(public ChatStore $chats, public AttachmentFiles $files, public bool $isRepair = false)
    {
    }
}
