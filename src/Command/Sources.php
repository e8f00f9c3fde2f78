<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Geschenk\Core\Archive\ChatSource;
use Geschenk\Core\Archive\SealedVault;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Seal\KeyFailure;
use Geschenk\Core\UnusableInput;

/** Chats at a path, whatever form they have; a backup that this shop keeps sealed is opened with the shop's key. */
final readonly class Sources
{
    public function __construct(
        private Formats $formats,
        private ChatReading $reading,
        private SealedVault $vault,
    ) {
    }

    /**
     * @param bool           $hash whether the attachments' contents are needed, or only their presence
     * @param BackupKey|null $key  opens a messenger's own backup that is locked
     *
     * @throws UnusableInput
     * @throws KeyFailure
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function open(string $path, bool $hash, ?BackupKey $key = null): ChatSource
    {
        $id = $this->vault->idAt($path);
        if (null === $id) {
            return ChatSource::open($path, $this->formats, $hash, $key, $this->reading);
        }
        $this->vault->verify($id);

        return ChatSource::ofBackup($this->vault->open($id), $this->formats);
    }
}
