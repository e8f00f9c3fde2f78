<?php

declare(strict_types=1);

namespace Geschenk\Core\Import;

use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\StoreEditor;
use Geschenk\Core\Transfer\Fetched;

/** A messenger's own files: read as those of a phone are, and each attachment comes when the chats name it. */
final readonly class CarriedChats extends Fetched
{
    /** @param list<array{code: string, subject: string, count: int}> $faults of what it came in, told with the chats */
    public function __construct(
        string|ScratchFolder $chats,
        private CarriedFiles $carried,
        private array $faults = [],
    ) {
        parent::__construct($chats, [], '');
    }

    public function read(ChatReading $reading, AttachmentFiles $files, string $store, Progress $progress): void
    {
        $reading->read($this->chatsFolder(), $this->carried, $store, $progress, Carried::NAME);
        $this->carried->note();
        foreach ($this->faults as $fault) {
            StoreEditor::addFinding($store, $fault['code'], $fault['subject'], null, $fault['count']);
        }
    }
}
