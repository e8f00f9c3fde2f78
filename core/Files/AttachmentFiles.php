<?php

declare(strict_types=1);

namespace Geschenk\Core\Files;

use Geschenk\Core\Chat\Presence;

/** Where a reader finds the bytes of attachments: a folder, a backup, a phone at the end of a cable. */
interface AttachmentFiles
{
    /**
     * @param string $path      relative to the messenger's data folder
     * @param string $mediaType what the file is said to be
     *
     * @return array{presence: Presence, bytes: int, sha256: string|null}
     */
    public function look(string $path, string $mediaType): array;

    /**
     * @return resource|null a stream to read from; null when the file is not present
     */
    public function open(string $path): mixed;
}
