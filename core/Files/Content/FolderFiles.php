<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Content;

use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Locked\ContentKey;
use Geschenk\Core\Files\Locked\LockedContent;

/** Attachments in a folder on this computer. */
final class FolderFiles implements AttachmentFiles
{
    use PutsCopies {
        put as private copy;
    }

    private ?string $root = null;

    /**
     * @param bool                              $hash      false where only presence and size are asked for
     * @param (\Closure(string): ?string)|null $knownHash the SHA-256 of a path, where somebody computed it already
     * @param bool                              $mayLink   whether what is put elsewhere may be the same file under two
     *                                                     names: only where nobody writes into either
     */
    public function __construct(
        private readonly string $folder,
        private readonly bool $hash = true,
        private readonly ?\Closure $knownHash = null,
        private readonly bool $mayLink = false,
    ) {
    }

    public function look(string $path, string $mediaType, ?ContentKey $key = null): array
    {
        if (Folder::staysInside($path) && !is_file($this->folder.'/'.$path)) {
            return ['presence' => Presence::Missing, 'bytes' => 0, 'sha256' => null];
        }
        $full = $this->inside($path);
        if (null === $full) {
            return ['presence' => Presence::Refused, 'bytes' => 0, 'sha256' => null];
        }
        $bytes = (int) filesize($full);
        if (0 === $bytes) {
            // Nothing that is locked has no bytes.
            $presence = null === $key ? Presence::Empty : Presence::Unreadable;

            return ['presence' => $presence, 'bytes' => 0, 'sha256' => null];
        }

        if (!$this->hash) {
            $content = $key?->cipher->contentBytes($bytes) ?? $bytes;

            $presence = 0 === $content ? Presence::Empty : Presence::Present;

            return ['presence' => $presence, 'bytes' => $content, 'sha256' => null];
        }
        if (null !== $key) {
            $locked = @fopen($full, 'r');
            if (false === $locked) {
                return ['presence' => Presence::Unreadable, 'bytes' => 0, 'sha256' => null];
            }
            try {
                return LockedContent::look($locked, $mediaType, $key);
            } finally {
                fclose($locked);
            }
        }
        $head = @file_get_contents($full, false, null, 0, FileType::HEAD);
        if (false === $head || '' === $head) {
            return ['presence' => Presence::Unreadable, 'bytes' => 0, 'sha256' => null];
        }

        return [
            'presence' => FileType::contradicts($mediaType, $head) ? Presence::WrongType : Presence::Present,
            'bytes' => $bytes, 'sha256' => $this->hashOf($path, $full),
        ];
    }

    public function open(string $path, ?ContentKey $key = null): mixed
    {
        $full = $this->inside($path);
        $stream = null !== $full && is_file($full) ? fopen($full, 'r') : false;
        if (false === $stream || null === $key) {
            return $stream ?: null;
        }
        try {
            return LockedContent::open($stream, $key);
        } finally {
            fclose($stream);
        }
    }

    public function put(string $path, string $target, ?string $sha256 = null, ?ContentKey $key = null): bool
    {
        $full = $this->mayLink && null === $key ? $this->inside($path) : null;
        // A link of the backup's own would be followed by whoever reads it; what it leads to stays where it is.
        if (null === $full || !is_file($full) || is_link($full)) {
            return $this->copy($path, $target, $sha256, $key);
        }
        Folder::putLink($full, $target);

        return true;
    }

    private function hashOf(string $path, string $full): ?string
    {
        $known = null === $this->knownHash ? null : ($this->knownHash)($path);

        return $known ?? (hash_file('sha256', $full) ?: null);
    }

    /** The full path, or null when it would lead out of the folder, by its words or through a link. */
    private function inside(string $path): ?string
    {
        if (!Folder::staysInside($path)) {
            return null;
        }
        $full = $this->folder.'/'.$path;
        $real = realpath($full);
        $this->root ??= (string) realpath($this->folder);
        if (false !== $real && '' !== $this->root && !str_starts_with($real, $this->root.'/')) {
            return null;
        }

        return $full;
    }
}
