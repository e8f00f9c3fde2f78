<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Files\Content\FileType;
use Geschenk\Core\Files\Content\HeadSink;
use Geschenk\Core\Files\Content\PutsCopies;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Locked\ContentKey;
use Geschenk\Core\Files\Locked\LockedContent;
use Geschenk\Core\Phone\PhoneLink;

/** Attachments on a phone, read over the cable: what is called there was read back from the phone. */
final class LinkFiles implements AttachmentFiles
{
    use PutsCopies;

    private const MEMORY = 2_000_000;

    /** @param string $above folder below the app's data that the paths are of; with its slash, or empty */
    public function __construct(
        private readonly PhoneLink $link,
        private readonly string $app,
        private readonly bool $hash,
        private readonly string $above = '',
    ) {
    }

    public function look(string $path, string $mediaType, ?ContentKey $key = null): array
    {
        $none = static fn (Presence $presence): array => ['presence' => $presence, 'bytes' => 0, 'sha256' => null];
        if (!Folder::staysInside($path)) {
            return $none(Presence::Refused);
        }
        $path = $this->above.$path;
        $file = $this->link->file($this->app, $path);
        if (null === $file) {
            return $none(Presence::Missing);
        }
        if (0 === $file->bytes) {
            // Nothing that is locked has no bytes.
            return $none(null === $key ? Presence::Empty : Presence::Unreadable);
        }
        if (!$this->hash) {
            $bytes = $key?->cipher->contentBytes($file->bytes) ?? $file->bytes;

            $presence = 0 === $bytes ? Presence::Empty : Presence::Present;

            return ['presence' => $presence, 'bytes' => $bytes, 'sha256' => null];
        }
        if (null !== $key) {
            $locked = $this->pull($path);
            try {
                return null === $locked ? $none(Presence::Unreadable) : LockedContent::look($locked, $mediaType, $key);
            } finally {
                null === $locked || fclose($locked);
            }
        }
        $sink = HeadSink::open();
        $pulled = (new Pull($this->link, $this->app))->into(
            $path, static function () use (&$sink): mixed { return $sink = HeadSink::open(); },
        );
        if (!$pulled->isWhole) {
            return $none(Presence::Unreadable);
        }
        $presence = FileType::contradicts($mediaType, HeadSink::headOf($sink))
            ? Presence::WrongType
            : Presence::Present;

        return ['presence' => $presence, 'bytes' => $pulled->bytes, 'sha256' => $pulled->sha256];
    }

    public function open(string $path, ?ContentKey $key = null): mixed
    {
        if (!Folder::staysInside($path) || null === $this->link->file($this->app, $this->above.$path)) {
            return null;
        }
        $stream = $this->pull($this->above.$path);
        if (null === $stream || null === $key) {
            return $stream;
        }
        try {
            return LockedContent::open($stream, $key);
        } finally {
            fclose($stream);
        }
    }

    /** @return resource|null a temporary file with what lies on the phone; null when it can't be read to its end */
    private function pull(string $path): mixed
    {
        $memory = null;
        $pulled = (new Pull($this->link, $this->app))->into($path, static function () use (&$memory): mixed {
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
