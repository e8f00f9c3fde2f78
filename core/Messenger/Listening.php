<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Progress;

/** What a process that reads may ask for, and who is told how far it is. */
final readonly class Listening
{
    /** @param string $name of what is read, for what is said of it */
    public function __construct(
        public string $name,
        public ?AttachmentFiles $files = null,
        public ?Progress $progress = null,
    ) {
    }
}
