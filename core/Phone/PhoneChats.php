<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

use Geschenk\Core\Files\Folder;
use Geschenk\Core\Files\ScratchFolder;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\Format;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\SealedBackups;
use Geschenk\Core\Messenger\UnusableInput;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\StoreWriter;

/** Reads the chats that a phone holds right now into a chat store, over the cable. */
final class PhoneChats
{
    private const ATTEMPTS = 5;

    public function __construct(private readonly Formats $formats)
    {
    }

    /**
     * @param string $path where the chat store goes
     * @param bool   $hash whether to read every attachment back to the last byte, or only to see whether it is there
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws UnusableInput
     */
    public function read(PhoneLink $link, string $app, string $path, bool $hash, Progress $progress): void
    {
        $scratch = ScratchFolder::make();
        $format = $this->pullDatabase($link, $app, $scratch->path, static fn (int $bytes) => null);
        $store = new StoreWriter($path);
        $format->reader()->read($scratch->path, new LinkFiles($link, $app, $hash), $store, $progress);
        $store->finish();
    }

    /**
     * Pulls a messenger's database with its write-ahead log: both as they were at one moment.
     *
     * @param callable(int): void $onBytes
     *
     * @throws UnusableInput when the files are of no known format
     */
    public function pullDatabase(PhoneLink $link, string $app, string $folder, callable $onBytes): Format
    {
        foreach ($this->databases() as $files) {
            if (null === $link->file($app, $files[0])) {
                continue;
            }
            for ($attempt = 1; $attempt <= self::ATTEMPTS; ++$attempt) {
                $before = $this->marks($link, $app, $files);
                foreach ($files as $path) {
                    @unlink($folder.'/'.$path);
                    if (isset($before[$path])) {
                        self::pullFile($link, $app, $path, $folder.'/'.$path, $folder.'/'.$path.'.part', $onBytes);
                    }
                }
                if ($this->marks($link, $app, $files) === $before) {
                    return $this->formats->detect($folder) ?? throw UnusableInput::notMessengerData(sprintf('The data of %s on phone %s', $app, $link->serial()));
                }
            }
            throw PhoneRefuses::stillWriting();
        }
        if (null !== $this->sealed($link, $app)) {
            throw UnusableInput::sealedOnPhone();
        }
        throw UnusableInput::notMessengerData(sprintf('The data of %s on phone %s', $app, $link->serial()));
    }

    /**
     * The sealed backup of a messenger whose chats lie nowhere else on the phone; null where they lie open, or not at all.
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    public function sealed(PhoneLink $link, string $app): ?PhoneFile
    {
        foreach ($this->databases() as $files) {
            if (null !== $link->file($app, $files[0])) {
                return null;
            }
        }
        foreach ($this->formats->all() as $format) {
            $file = $format instanceof SealedBackups ? $link->file($app, $format->sealedFile()) : null;
            if (null !== $file) {
                return $file;
            }
        }

        return null;
    }

    /**
     * Pulls a sealed backup and opens it.
     *
     * @param string              $folder   where it is kept as it was sealed
     * @param string              $unsealed where its database goes
     * @param callable(int): void $onBytes
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws UnusableInput when the key does not open it, or it is damaged
     */
    public function pullSealed(PhoneLink $link, string $app, PhoneFile $sealed, BackupKey $key, string $folder, string $unsealed, callable $onBytes): void
    {
        $target = $folder.'/'.$sealed->path;
        self::pullFile($link, $app, $sealed->path, $target, $target.'.part', $onBytes);
        foreach ($this->formats->all() as $format) {
            if ($format instanceof SealedBackups && $format->isSealed($target)) {
                $format->unseal($target, $key, $unsealed, 'The sealed backup on the phone');

                return;
            }
        }
        throw UnusableInput::notMessengerData(sprintf('%s on the phone', $sealed->path));
    }

    /** @return list<list<string>> the files of each kind of database, several formats of which may share a name */
    private function databases(): array
    {
        $databases = [];
        foreach ($this->formats->all() as $format) {
            $databases[implode("\0", $format->databaseFiles())] = $format->databaseFiles();
        }

        return array_values($databases);
    }

    /**
     * Pulls one file; it appears under its name only when it is whole.
     *
     * @param string              $piece   where the file is until it is whole, on the same disk
     * @param callable(int): void $onBytes
     *
     * @return array{bytes: int, sha256: string}
     */
    public static function pullFile(PhoneLink $link, string $app, string $path, string $target, string $piece, callable $onBytes): array
    {
        Folder::make(dirname($target));
        $sink = fopen($piece, 'w');
        if (false === $sink) {
            throw new \RuntimeException(sprintf('%s can\'t be written.', $target));
        }
        try {
            $pulled = $link->pull($app, $path, $sink, $onBytes);
        } finally {
            fclose($sink);
        }
        if (!rename($piece, $target)) {
            throw new \RuntimeException(sprintf('%s can\'t be put in place.', $target));
        }

        return $pulled;
    }

    /**
     * @param list<string> $files
     *
     * @return array<string, string> change marks by path of the database files that are there
     */
    private function marks(PhoneLink $link, string $app, array $files): array
    {
        $marks = [];
        foreach ($files as $path) {
            $file = $link->file($app, $path);
            if (null !== $file) {
                $marks[$path] = $file->bytes.':'.$file->changed;
            }
        }

        return $marks;
    }
}
