<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Content;

use Geschenk\Core\Files\Locked\ContentKey;

/**
 * Attachments that are lent for one piece of work: whoever keeps hold of them behind it keeps nothing open. SQLite
 * holds the functions that it was given for as long as the process lives, and with them whoever gave them.
 */
final class LentFiles implements AttachmentFiles
{
    public function __construct(private ?AttachmentFiles $files)
    {
    }

    public function giveBack(): void
    {
        $this->files = null;
    }

    public function look(string $path, string $mediaType, ?ContentKey $key = null): array
    {
        return $this->lent()->look($path, $mediaType, $key);
    }

    public function open(string $path, ?ContentKey $key = null): mixed
    {
        return $this->lent()->open($path, $key);
    }

    public function put(string $path, string $target, ?string $sha256 = null, ?ContentKey $key = null): bool
    {
        return $this->lent()->put($path, $target, $sha256, $key);
    }

    private function lent(): AttachmentFiles
    {
        return $this->files ?? throw new \LogicException('They were given back.');
    }
}
