<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Files\AttachmentFiles;
use Geschenk\Core\Files\FileType;
use Geschenk\Core\Files\Folder;
use Geschenk\Core\Files\HeadSink;
use Geschenk\Core\Phone\PhoneLink;

/** Attachments on a phone, read over the cable: what is called there was read back from the phone. */
final class LinkFiles implements AttachmentFiles
{
    private const MEMORY = 2_000_000;

    public function __construct(
        private readonly PhoneLink $link,
        private readonly string $app,
        private readonly bool $hash,
    ) {
    }

    public function look(string $path, string $mediaType): array
    {
        $none = static fn (Presence $presence): array => ['presence' => $presence, 'bytes' => 0, 'sha256' => null];
        if (!Folder::staysInside($path)) {
            return $none(Presence::Refused);
        }
        $file = $this->link->file($this->app, $path);
        if (null === $file || 0 === $file->bytes) {
            return $none(null === $file ? Presence::Missing : Presence::Empty);
        }
        if (!$this->hash) {
            return ['presence' => Presence::Present, 'bytes' => $file->bytes, 'sha256' => null];
        }
        $sink = HeadSink::open();
        $pulled = Pull::into(
            $this->link, $this->app, $path, static function () use (&$sink): mixed { return $sink = HeadSink::open(); },
        );
        if (!$pulled->isWhole) {
            return $none(Presence::Unreadable);
        }
        $presence = FileType::contradicts($mediaType, HeadSink::headOf($sink))
            ? Presence::WrongType
            : Presence::Present;

        return ['presence' => $presence, 'bytes' => $pulled->bytes, 'sha256' => $pulled->sha256];
    }

    public function open(string $path): mixed
    {
        if (!Folder::staysInside($path) || null === $this->link->file($this->app, $path)) {
            return null;
        }
        $memory = null;
        $pulled = Pull::into($this->link, $this->app, $path, static function () use (&$memory): mixed {
            return $memory = fopen(
                sprintf('php://temp/maxmemory:%d', self::MEMORY), 'w+',
            ) ?: throw new \RuntimeException('There is no space for a temporary file.');
        });
        if (!is_resource($memory) || !$pulled->isWhole) {
            return null;
        }
        rewind($memory);

        return $memory;
    }
}
