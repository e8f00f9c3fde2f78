<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Files\AttachmentFiles;
use Geschenk\Core\Files\FileType;
use Geschenk\Core\Files\Folder;

/** Attachments on a phone, read over the cable: what is called there was read back from the phone. */
final class LinkFiles implements AttachmentFiles
{
    public function __construct(private readonly PhoneLink $link, private readonly string $app, private readonly bool $hash)
    {
    }

    public function look(string $path, string $mediaType): array
    {
        if (!Folder::staysInside($path)) {
            return ['presence' => Presence::Refused, 'bytes' => 0, 'sha256' => null];
        }
        $file = $this->link->file($this->app, $path);
        if (null === $file) {
            return ['presence' => Presence::Missing, 'bytes' => 0, 'sha256' => null];
        }
        if (0 === $file->bytes) {
            return ['presence' => Presence::Empty, 'bytes' => 0, 'sha256' => null];
        }
        if (!$this->hash) {
            return ['presence' => Presence::Present, 'bytes' => $file->bytes, 'sha256' => null];
        }
        $pulled = fopen('php://temp/maxmemory:2000000', 'w+');
        if (false === $pulled) {
            throw new \RuntimeException('There is no space for a temporary file.');
        }
        $facts = $this->link->pull($this->app, $path, $pulled, static fn (int $bytes) => null);
        rewind($pulled);
        $head = (string) fread($pulled, FileType::HEAD);
        fclose($pulled);

        return ['presence' => FileType::contradicts($mediaType, $head) ? Presence::WrongType : Presence::Present, ...$facts];
    }

    public function open(string $path): mixed
    {
        if (!Folder::staysInside($path) || null === $this->link->file($this->app, $path)) {
            return null;
        }
        $memory = fopen('php://temp/maxmemory:2000000', 'w+');
        if (false === $memory) {
            return null;
        }
        $this->link->pull($this->app, $path, $memory, static fn (int $bytes) => null);
        rewind($memory);

        return $memory;
    }
}
