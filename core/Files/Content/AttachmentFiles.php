<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Content;

use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Locked\ContentKey;

/**
 * Where the content of attachments is found: a folder, a backup, a phone at the end of a cable. Of a file that is
 * locked, content is what its key opens: that is what is hashed, looked at, compared and written.
 */
interface AttachmentFiles
{
    /**
     * @param string          $path      relative to the messenger's data folder
     * @param string          $mediaType what the file is said to be
     * @param ContentKey|null $key       unlocks it; null where it lies open
     *
     * @return array{presence: Presence, bytes: int, sha256: string|null}
     */
    public function look(string $path, string $mediaType, ?ContentKey $key = null): array;

    /**
     * @return resource|null a stream to read from; null when the file is not present, or its key does not open it
     */
    public function open(string $path, ?ContentKey $key = null): mixed;

    /**
     * Puts the content of a file under another name on this computer, in a folder that is there. What lies under that
     * name whole already, of an attempt before, is kept.
     *
     * @param string      $target full path
     * @param string|null $sha256 of the content, where it is known
     *
     * @return bool false when the file is not present, or its key does not open it
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function put(string $path, string $target, ?string $sha256 = null, ?ContentKey $key = null): bool;
}
