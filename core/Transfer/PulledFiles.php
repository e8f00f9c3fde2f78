<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Content\PutsCopies;
use Geschenk\Core\Files\Locked\ContentKey;

/**
 * The attachments of a backup that is being made: with the hashes that the journal knows, and what could not be read.
 */
final class PulledFiles implements AttachmentFiles
{
    use PutsCopies;

    private readonly FolderFiles $files;

    public function __construct(string $folder, private readonly PullJournal $journal)
    {
        $this->files = new FolderFiles($folder, true, $journal->hash(...));
    }

    public function look(string $path, string $mediaType, ?ContentKey $key = null): array
    {
        $found = $this->files->look($path, $mediaType, $key);

        return Presence::Missing === $found['presence'] && $this->journal->isUnreadable($path)
            ? ['presence' => Presence::Unreadable, 'bytes' => 0, 'sha256' => null]
            : $found;
    }

    public function open(string $path, ?ContentKey $key = null): mixed
    {
        return $this->files->open($path, $key);
    }
}
