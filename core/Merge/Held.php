<?php

declare(strict_types=1);

namespace Geschenk\Core\Merge;

use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Store\ChatStore;

/**
 * What the receiving phone holds before anything is brought to it: its chats and their files, as they were copied. What
 * it held whenever it was merged with before goes along: all of it is expected there, whatever became of it since.
 */
final readonly class Held
{
    /**
     * @param bool      $isRepair whether it was brought from the same backup, and something is not as it was meant
     * @param self|null $before   what the phone held when it was merged with before
     */
    public function __construct(
        public ChatStore $chats,
        public AttachmentFiles $files,
        public bool $isRepair = false,
        public ?self $before = null,
    ) {
    }

    /** @return list<self> in the order in which they were there */
    public function all(): array
    {
        return [...$this->before?->all() ?? [], $this];
    }
}
