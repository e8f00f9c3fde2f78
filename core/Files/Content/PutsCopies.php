<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Content;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Locked\ContentKey;

/** Puts the content of attachments elsewhere by copying it: the way of all that is no plain file on this computer. */
trait PutsCopies
{
    public function put(string $path, string $target, ?string $sha256 = null, ?ContentKey $key = null): bool
    {
        $source = $this->open($path, $key);
        if (null === $source) {
            return false;
        }
        Folder::putStream($source, $target, $sha256);

        return true;
    }
}
