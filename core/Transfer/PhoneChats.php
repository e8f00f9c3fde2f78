<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Files\Disk;
use Geschenk\Core\Files\DiskFailure;
use Geschenk\Core\Files\ScratchFolder;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\SealedBackups;
use Geschenk\Core\Phone\PhoneFile;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\StoreEditor;
use Geschenk\Core\UnusableInput;

/** Reads the chats that a phone holds right now into a chat store, over the cable. */
final class PhoneChats
{
    private const ATTEMPTS = 5;
    /** Microseconds: a change mark of this very second is not to be relied on, one of the last second is. */
    private const MOMENT = 1_050_000;

    public function __construct(private readonly Formats $formats, private readonly ChatReading $reading)
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
        $unreadable = $this->pullDatabase($link, $app, $scratch->path, static fn (int $bytes) => null);
        $this->reading->read($scratch->path, new LinkFiles($link, $app, $hash), $path, $progress, '@phone_data');
        foreach ($unreadable as $file) {
            StoreEditor::addFinding(
                $path, 'file_unreadable', $file['path'], sprintf('%d of %d bytes', $file['readable'], $file['bytes']),
            );
        }
    }

    /**
     * Pulls a messenger's database with its write-ahead log: both as they were at one moment. Where the phone can't
     * read one to its end, zeros stand for the rest: what belonged there is then missed and counted as damage.
     *
     * @param callable(int): void $onBytes
     *
     * @return list<array{path: string, bytes: int, readable: int}> files that the phone can't read to their end
     *
     * @throws UnusableInput when there is none of a known format
     */
    public function pullDatabase(PhoneLink $link, string $app, string $folder, callable $onBytes): array
    {
        foreach ($this->databases() as $files) {
            if (null === $link->file($app, $files[0])) {
                continue;
            }
            $before = null;
            for ($attempt = 1; $attempt <= self::ATTEMPTS; ++$attempt) {
                $startedAt = time();
                $marks = $this->marks($link, $app, $files);
                try {
                    [$hashes, $unreadable] = $this->pullSet($link, $app, $files, $marks, $folder, $onBytes);
                } catch (PhoneRefuses $refusal) {
                    if (self::areSame($this->marks($link, $app, $files), $marks)) {
                        throw $refusal;
                    }
                    // A log comes and goes with the messenger.
                    continue;
                }
                if (!self::areSame($this->marks($link, $app, $files), $marks)) {
                    continue;
                }
                // Twice the same, a while apart, is as good as an old mark: clocks of phones are not always right.
                $isOld = [] === array_filter(
                    $marks, static fn (PhoneFile $file): bool => $file->changedAt >= $startedAt,
                );
                if ($isOld || $before === $hashes) {
                    return $unreadable;
                }
                $before = $hashes;
                usleep(self::MOMENT);
            }
            throw PhoneRefuses::stillWriting();
        }
        if (null !== $this->sealed($link, $app)) {
            throw UnusableInput::sealedOnPhone();
        }
        throw UnusableInput::notMessengerData('@phone_data');
    }

    /**
     * @param list<string>             $files
     * @param array<string, PhoneFile> $listed those of them that are there
     * @param callable(int): void      $onBytes
     *
     * @return array{
     *     array<string, string>, list<array{path: string, bytes: int, readable: int}>,
     * } hashes by path, and what can't be read
     */
    private function pullSet(
        PhoneLink $link,
        string $app,
        array $files,
        array $listed,
        string $folder,
        callable $onBytes,
    ): array {
        $hashes = $unreadable = [];
        foreach ($files as $path) {
            $target = $folder.'/'.$path;
            if (is_file($target) && !unlink($target)) {
                throw DiskFailure::at('remove', $target);
            }
            if (!isset($listed[$path])) {
                continue;
            }
            $pulled = Pull::file($link, $app, $path, $target, $target.'.part', $onBytes);
            $hashes[$path] = $pulled->sha256;
            if (!$pulled->isWhole) {
                $stream = Disk::open($target, 'r+');
                ftruncate($stream, max(0, $pulled->listed)) ?: throw DiskFailure::at('write', $target);
                Disk::finish($stream, $target);
                $unreadable[] = ['path' => $path, 'bytes' => $pulled->listed, 'readable' => $pulled->bytes];
            }
        }

        return [$hashes, $unreadable];
    }

    /**
     * The sealed backup of a messenger whose chats lie nowhere else on the phone; null where they lie open, or not at
     * all.
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
    public function pullSealed(
        PhoneLink $link,
        string $app,
        PhoneFile $sealed,
        BackupKey $key,
        string $folder,
        string $unsealed,
        callable $onBytes,
    ): void {
        $target = $folder.'/'.$sealed->path;
        $pulled = Pull::file($link, $app, $sealed->path, $target, $target.'.part', $onBytes);
        if (!$pulled->isWhole) {
            throw UnusableInput::sealedCut('@sealed_backup', $pulled->bytes, $pulled->listed);
        }
        $this->reading->unseal($target, $key, $unsealed, '@sealed_backup');
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
     * @param list<string> $files
     *
     * @return array<string, PhoneFile> the database files that are there, by path
     */
    private function marks(PhoneLink $link, string $app, array $files): array
    {
        $marks = [];
        foreach ($files as $path) {
            $file = $link->file($app, $path);
            if (null !== $file) {
                $marks[$path] = $file;
            }
        }

        return $marks;
    }

    /**
     * @param array<string, PhoneFile> $some
     * @param array<string, PhoneFile> $others
     */
    private static function areSame(array $some, array $others): bool
    {
        foreach ($some as $path => $file) {
            if (!$file->isSameAs($others[$path] ?? null)) {
                return false;
            }
        }

        return count($some) === count($others);
    }
}
