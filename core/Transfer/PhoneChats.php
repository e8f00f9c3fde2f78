<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Messenger\ChatFiles;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Messenger\Format;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\LocalBackups;
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
    /** Local backups that are looked at, the newest of them. */
    private const MOST_OWN = 12;

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
        $bytes = array_sum(array_map(
            static fn (PhoneFile $file): int => $file->bytes, $this->chatFiles($link, $app),
        ));
        // As many again, for what comes in meanwhile.
        $scratch = ScratchFolder::make(2 * $bytes);
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
        $pull = new Pull($link, $app, $onBytes);
        foreach ($this->formats($link, $app) as $files) {
            $marks = self::marks($link, $app, $files);
            if ([] === $marks) {
                continue;
            }
            $before = null;
            for ($attempt = 1; $attempt <= self::ATTEMPTS; ++$attempt) {
                $startedAt = time();
                try {
                    [$hashes, $unreadable] = self::pullSet($pull, $files, $marks, $folder);
                } catch (PhoneRefuses $refusal) {
                    $now = self::marks($link, $app, $files);
                    if (self::areSame($now, $marks)) {
                        throw $refusal;
                    }
                    // A log comes and goes with the messenger.
                    $marks = $now;
                    continue;
                }
                $now = self::marks($link, $app, $files);
                if (!self::areSame($now, $marks)) {
                    $marks = $now;
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
        if ([] !== $this->localBackupFiles($link, $app)) {
            throw UnusableInput::sealedOnPhone();
        }
        throw UnusableInput::notMessengerData('@phone_data');
    }

    /**
     * @param array<string, PhoneFile> $listed by path
     *
     * @return array{
     *     array<string, string>, list<array{path: string, bytes: int, readable: int}>,
     * } hashes by path, and what can't be read
     */
    private static function pullSet(Pull $pull, ChatFiles $files, array $listed, string $folder): array
    {
        $hashes = $unreadable = [];
        // Of an attempt before, or of a run before: what is there no more now belongs to no chat.
        foreach ($files->in($folder) as $path) {
            if (!unlink($folder.'/'.$path)) {
                throw DiskFailure::at('remove', $folder.'/'.$path);
            }
        }
        foreach ($listed as $path => $_) {
            $target = $folder.'/'.$path;
            $pulled = $pull->file($path, $target);
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
     * The files that hold the chats of local backups, the newest first.
     *
     * @return array<string, array{file: PhoneFile, format: LocalBackups}> by path
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    public function localBackupFiles(PhoneLink $link, string $app): array
    {
        $found = $folders = [];
        foreach ($this->withBackups($link, $app) as $format) {
            foreach ($format->localBackupPlaces() as $place) {
                $halves = explode('/*/', $place, 2);
                $paths = [$place];
                if (2 === count($halves)) {
                    [$above, $below] = $halves;
                    $folders[$above] ??= $link->folders($app, $above, self::MOST_OWN);
                    // A name that is no text can't be shown, nor told back by who has chosen it.
                    $names = array_filter($folders[$above], static fn (string $name): bool => mb_check_encoding($name));
                    $paths = array_map(static fn (string $name): string => "$above/$name/$below", $names);
                }
                foreach ($paths as $path) {
                    $file = $link->file($app, $path);
                    if (null !== $file) {
                        $found[$path] = ['file' => $file, 'format' => $format];
                    }
                }
            }
        }
        uasort($found, static fn (array $a, array $b): int => $b['file']->changedAt <=> $a['file']->changedAt);

        return array_slice($found, 0, self::MOST_OWN, true);
    }

    /**
     * The files that hold an app's chats right now.
     *
     * @return array<string, PhoneFile> by path
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws UnusableInput when there are more than any messenger has
     */
    public function chatFiles(PhoneLink $link, string $app): array
    {
        $found = [];
        foreach ($this->formats($link, $app) as $files) {
            $found += self::marks($link, $app, $files);
        }

        return $found;
    }

    /** @return \Closure(string): bool whether a path is one of an app's files that hold chats, there now or not */
    public function apart(PhoneLink $link, string $app): \Closure
    {
        $formats = $this->formats($link, $app);

        return static function (string $path) use ($formats): bool {
            foreach ($formats as $files) {
                if ($files->hold($path)) {
                    return true;
                }
            }

            return false;
        };
    }

    /** @return \Closure(string): bool whether a path is in a folder that holds nothing but local backups */
    public function keptApart(PhoneLink $link, string $app): \Closure
    {
        $folders = [];
        foreach ($this->withBackups($link, $app) as $format) {
            $folders[$format->localBackupFolder()] = true;
        }

        return static fn (string $path): bool => isset($folders[explode('/', $path, 2)[0]]);
    }

    /** @return list<LocalBackups> the formats of an app whose messenger makes backups of its own */
    public function withBackups(PhoneLink $link, string $app): array
    {
        $formats = [];
        foreach ($this->formats->of($app, $link->state()->platform) as $format) {
            if ($format instanceof LocalBackups) {
                $formats[] = $format;
            }
        }

        return $formats;
    }

    /** @return list<ChatFiles> of each format that the app's data may be of; several have the same names */
    private function formats(PhoneLink $link, string $app): array
    {
        $files = [];
        foreach ($this->formats->of($app, $link->state()->platform) as $format) {
            $files[serialize($format->chatFiles())] ??= $format->chatFiles();
        }

        return array_values($files);
    }

    /** @return array<string, PhoneFile> those that are there, by path, in the order in which to pull */
    private static function marks(PhoneLink $link, string $app, ChatFiles $files): array
    {
        $there = [];
        foreach ($files->named() ?? [] as $path) {
            $file = $link->file($app, $path);
            if (null !== $file) {
                $there[$path] = $file;
            }
        }
        foreach (null === $files->named() ? $link->files($app) : [] as $file) {
            if ($files->hold($file->path) && Folder::staysInside($file->path)) {
                $there[$file->path] = $file;
                if (count($there) > ChatFiles::MOST) {
                    throw UnusableInput::tooManyChatFiles('@phone_data', ChatFiles::MOST);
                }
            }
        }
        $marks = [];
        foreach ($files->among(array_keys($there)) as $path) {
            $marks[$path] = $there[$path];
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
