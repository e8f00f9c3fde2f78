<?php

declare(strict_types=1);

namespace Geschenk\Core\Import;

use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\SoundStore;
use Geschenk\Core\Transfer\Fetched;

/**
 * Chats in a form of our own that lay elsewhere: taken over row by row, and held against the files that came with them.
 */
final readonly class CarriedStore extends Fetched
{
    /**
     * @param string                     $file  that holds them, here
     * @param \Closure(string): void $bring has the attachments of a store come; whether they did is not asked of it
     */
    public function __construct(private string $file, private CarriedFiles $carried, private \Closure $bring)
    {
        parent::__construct('', [], '');
    }

    public function read(ChatReading $reading, AttachmentFiles $files, string $store, Progress $progress): void
    {
        $reading->takeOver($this->file, $store, $progress, Carried::NAME);
        SoundStore::ensureNoPlan($store, Carried::NAME);
        $progress->phase('pulling_files');
        ($this->bring)($store);
        $this->carried->note();
        (new SettledAttachments($store))->settle($this->carried, $progress);
    }
}
