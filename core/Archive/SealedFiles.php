<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Files\Content\FileType;
use Geschenk\Core\Files\Content\PutsCopies;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Locked\ContentKey;
use Geschenk\Core\Files\Locked\LockedContent;
use Geschenk\Core\Seal\SealedContents;
use Geschenk\Core\UnusableInput;

/** Attachments of a bag that lies sealed. One that does not unseal is unreadable, as one on a worn disk is. */
final readonly class SealedFiles implements AttachmentFiles
{
    use PutsCopies;

    public function __construct(private SealedContents $contents)
    {
    }

    public function look(string $path, string $mediaType, ?ContentKey $key = null): array
    {
        $none = static fn (Presence $presence): array => ['presence' => $presence, 'bytes' => 0, 'sha256' => null];
        if (!Folder::staysInside($path)) {
            return $none(Presence::Refused);
        }
        $bytes = $this->contents->bytes($path);
        if (null === $bytes) {
            return $none(Presence::Missing);
        }
        if (0 === $bytes) {
            // Nothing that is locked has no bytes.
            return $none(null === $key ? Presence::Empty : Presence::Unreadable);
        }
        try {
            $stream = $this->contents->open($path);
            try {
                if (null !== $key) {
                    return LockedContent::look($stream, $mediaType, $key);
                }
                $head = Disk::read($stream, FileType::HEAD, $path);
                rewind($stream);
                $sha256 = Disk::sha256Of($stream, $path);
            } finally {
                fclose($stream);
            }
        } catch (UnusableInput|DiskFailure) {
            return $none(Presence::Unreadable);
        }

        return [
            'presence' => FileType::contradicts($mediaType, $head) ? Presence::WrongType : Presence::Present,
            'bytes' => $bytes, 'sha256' => $sha256,
        ];
    }

    public function open(string $path, ?ContentKey $key = null): mixed
    {
        if (!Folder::staysInside($path) || null === $this->contents->bytes($path)) {
            return null;
        }
        $stream = $this->contents->open($path);
        if (null === $key) {
            return $stream;
        }
        try {
            return LockedContent::open($stream, $key);
        } finally {
            fclose($stream);
        }
    }
}
