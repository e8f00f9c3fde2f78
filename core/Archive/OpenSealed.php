<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

use Geschenk\Core\Seal\OpenCopies;
use Geschenk\Core\Seal\SealedContents;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\ContentFiles;
use Geschenk\Core\Store\StoreSchema;

/** A backup that lies sealed: its chats are unsealed into memory as a whole, its files piece by piece. */
final readonly class OpenSealed implements OpenBackup
{
    private const CHATS = Bag::PAYLOAD.'/'.StoreSchema::FILE_NAME;

    public function __construct(private SealedBag $bag, private OpenCopies $copies)
    {
    }

    public function info(): array
    {
        return $this->bag->info();
    }

    public function chats(): ChatStore
    {
        $copy = $this->copies->of($this->bag->file(self::CHATS));

        return new ChatStore($copy->path, behind: $copy);
    }

    public function files(bool $mayLink = false): ContentFiles
    {
        return new ContentFiles(new SealedFiles($this->raw()), $this->chats());
    }

    public function fingerprint(): string
    {
        $hash = hash_init('sha256');
        foreach ($this->bag->file(Bag::MANIFEST)->pieces() as $piece) {
            hash_update($hash, $piece);
        }

        return hash_final($hash);
    }

    public function raw(): SealedContents
    {
        return new SealedContents($this->bag->files(), Workplace::RAW.'/', function (): iterable {
            foreach ($this->bag->listed() as $file) {
                yield $file['path'];
            }
        });
    }
}
