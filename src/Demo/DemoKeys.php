<?php

declare(strict_types=1);

namespace Geschenk\App\Demo;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Seal\KeyFailure;
use Geschenk\Core\Seal\KeyFile;
use Geschenk\Core\Seal\Keyring;
use Geschenk\Core\Seal\KeySource;

/**
 * A demonstration's key lies beside what is sealed with it, in the clear: nobody has to tell a passphrase to look
 * round, and nobody's chats are in it. A shop has nothing of this.
 */
final readonly class DemoKeys implements KeySource
{
    /** @param string $told a key file that somebody has named, "" where nobody has */
    public function __construct(private string $folder, private string $told)
    {
    }

    public function told(): string
    {
        if ('' !== $this->told) {
            return (new KeyFile($this->told))->told();
        }
        $path = $this->folder.'/demonstration';
        if (!is_file($path)) {
            Folder::make($this->folder);
            $mine = $path.'.'.bin2hex(random_bytes(6));
            Disk::put($mine, bin2hex(random_bytes(32)));
            // Whoever was first has made it.
            Disk::quietly(static fn (): bool => link($mine, $path));
            Folder::remove($mine);
        }

        return (new KeyFile($path))->told();
    }

    /** The keyring, made where there is none yet. */
    public function ring(): Keyring
    {
        $ring = new Keyring($this->folder, $this);
        if (!$ring->isMade()) {
            try {
                $ring->make();
            } catch (KeyFailure $failure) {
                // Another was quicker.
                'key_made_already' === $failure->reason ?: throw $failure;
            }
        }

        return $ring;
    }
}
