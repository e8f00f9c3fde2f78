<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

use Geschenk\Core\Files\Content\Contents;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\ContentFiles;
use Geschenk\Core\UnusableInput;

/**
 * A backup that was opened: the chats in our own form beside the files as they were on the phone. Its chats and files
 * can be read for as long as it is, or they are, in somebody's hands.
 */
interface OpenBackup
{
    /**
     * @return array<string, string> the lines of bag-info.txt
     *
     * @throws UnusableInput when they are not as they were written
     */
    public function info(): array;

    /** @throws UnusableInput when they are not as they were written */
    public function chats(): ChatStore;

    /**
     * @param bool $mayLink whether what is put elsewhere may be the same file: only where nobody writes into it
     *
     * @throws UnusableInput as chats()
     */
    public function files(bool $mayLink = false): ContentFiles;

    /**
     * @return string what tells it from every other: the SHA-256 of the list of its files with their hashes (manifest
     *                of RFC 8493)
     *
     * @throws UnusableInput as info()
     */
    public function fingerprint(): string;

    /** What was pulled, as the app had it. */
    public function raw(): Contents;
}
