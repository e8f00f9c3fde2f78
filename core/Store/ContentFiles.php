<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Files\Locked\ContentKey;

/** The attachments of a chat store: each file unlocked with the key that the store keeps for it. */
final readonly class ContentFiles implements AttachmentFiles
{
    public function __construct(private AttachmentFiles $files, private ChatStore $chats)
    {
    }

    public function look(string $path, string $mediaType, ?ContentKey $key = null): array
    {
        return $this->files->look($path, $mediaType, $key ?? $this->chats->contentKey($path));
    }

    public function open(string $path, ?ContentKey $key = null): mixed
    {
        return $this->files->open($path, $key ?? $this->chats->contentKey($path));
    }

    public function put(string $path, string $target, ?string $sha256 = null, ?ContentKey $key = null): bool
    {
        return $this->files->put($path, $target, $sha256, $key ?? $this->chats->contentKey($path));
    }
}
