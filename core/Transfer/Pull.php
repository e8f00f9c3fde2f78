<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Files\Disk;
use Geschenk\Core\Files\DiskFailure;
use Geschenk\Core\Files\DiskFull;
use Geschenk\Core\Files\Folder;
use Geschenk\Core\Phone\FileUnreadable;
use Geschenk\Core\Phone\PhoneFile;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;

/** Brings single files over the cable: what came is held against what was listed, before and after. */
final class Pull
{
    private const ATTEMPTS = 5;
    private const READING_ATTEMPTS = 3;
    /** Microseconds: a change mark of this very second is not to be relied on, one of the last second is. */
    private const MOMENT = 1_050_000;
    /** Bytes that have to come of a file for it to go on where it was interrupted, and those lost to a kill at most. */
    private const WORTH_KEEPING = 4_000_000;
    private const NOTED_EVERY = 64_000_000;

    /**
     * Pulls a file as it was at one moment. It appears under its name when it is whole and on the disk; so does what
     * came of one that the phone can't read to its end. With a journal a large one goes on from where it was
     * interrupted, and a small one is on the disk only once whoever keeps the journal has waited for it.
     *
     * @param string              $piece   where the file is until then, on the same disk
     * @param callable(int): void $onBytes
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses when it is gone, or is written to all the time
     * @throws DiskFull
     * @throws DiskFailure
     */
    public static function file(
        PhoneLink $link,
        string $app,
        string $path,
        string $target,
        string $piece,
        callable $onBytes,
        ?PullJournal $journal = null,
    ): Pulled {
        Folder::make(dirname($target));
        $here = $piece;
        $pulled = self::steady($link, $app, $path, static function (PhoneFile $listed) use (
            $link, $app, $piece, $onBytes, $journal, &$here,
        ): Pulled {
            if (null === $journal || $listed->bytes < self::WORTH_KEEPING) {
                $here = $piece;

                return self::fromItsBeginning($link, $app, $listed, $piece, $onBytes, null === $journal);
            }
            // In a file of its own, which nothing else is ever written to: what is noted of it is in it.
            $here = self::begun($piece);

            return self::goingOn($link, $app, $listed, $here, $onBytes, $journal);
        });
        if (!Disk::quietly(static fn (): bool => rename($here, $target))) {
            throw Disk::failure('rename', $target);
        }

        return $pulled;
    }

    /** Where a large file is until it is whole, for a piece that others come in. */
    public static function begun(string $piece): string
    {
        return $piece.'.begun';
    }

    /** @param callable(int): void $onBytes */
    private static function fromItsBeginning(
        PhoneLink $link,
        string $app,
        PhoneFile $listed,
        string $piece,
        callable $onBytes,
        bool $isWaitedFor,
    ): Pulled {
        $sink = Disk::open($piece, 'w');
        $pulled = self::once($link, $app, $listed, $sink, $onBytes);
        $isWaitedFor ? Disk::finish($sink, $listed->path) : Disk::close($sink, $listed->path);

        return $pulled;
    }

    /**
     * Notes now and then how much of a large file is on the disk, and goes on from there where the phone still lists
     * the same of it.
     *
     * @param callable(int): void $onBytes
     */
    private static function goingOn(
        PhoneLink $link,
        string $app,
        PhoneFile $listed,
        string $piece,
        callable $onBytes,
        PullJournal $journal,
    ): Pulled {
        $there = $journal->cameOf($listed);
        clearstatcache(true, $piece);
        if ($there > 0 && (!is_file($piece) || filesize($piece) < $there)) {
            $there = 0;
        }
        if (0 === $there) {
            $journal->nothingBegun();
        }
        $from = $there;
        $sink = Disk::open($piece, $from > 0 ? 'r+' : 'w');
        ftruncate($sink, max(0, $from));
        fseek($sink, $from);
        // A mark of this very second may stand for two contents: such a file is not gone on with.
        $isMarkOld = $listed->changedAt < time();
        $noted = $from;
        $note = static function () use ($piece, $listed, $journal, $isMarkOld, &$there, &$noted): void {
            if ($isMarkOld && $there > $noted) {
                Disk::sync($piece);
                $journal->begun($listed, $there);
                $noted = $there;
            }
        };
        try {
            $pulled = self::once($link, $app, $listed, $sink, static function (int $bytes) use (
                $onBytes, $note, &$there, &$noted,
            ): void {
                $there += $bytes;
                if ($there - $noted >= self::NOTED_EVERY) {
                    $note();
                }
                $onBytes($bytes);
            }, $from);
        } catch (\Throwable $error) {
            if ($there - $noted >= self::WORTH_KEEPING) {
                $note();
            }
            throw $error;
        }
        Disk::finish($sink, $listed->path);
        $journal->nothingBegun();
        if (0 === $from || !$pulled->isWhole) {
            return $pulled;
        }

        return new Pulled($from + $pulled->bytes, $listed->bytes, Disk::sha256($piece), true);
    }

    /**
     * Reads a file to its end, for its size and hash, as it was at one moment.
     *
     * @param callable(): resource $sink gives a fresh stream for each attempt
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses when it is gone, or is written to all the time
     */
    public static function into(PhoneLink $link, string $app, string $path, callable $sink): Pulled
    {
        return self::steady(
            $link, $app, $path,
            static fn (PhoneFile $listed): Pulled => self::once(
                $link, $app, $listed, $sink(), static fn (int $bytes) => null,
            ),
        );
    }

    /**
     * @param callable(PhoneFile): Pulled $pull
     */
    private static function steady(PhoneLink $link, string $app, string $path, callable $pull): Pulled
    {
        $listed = $link->file($app, $path) ?? throw PhoneRefuses::noFile($path);
        $before = null;
        for ($attempt = 1, $readings = 1; $attempt <= self::ATTEMPTS;) {
            $startedAt = time();
            $pulled = $pull($listed);
            $now = $link->file($app, $path) ?? throw PhoneRefuses::noFile($path);
            $isSteady = $now->changed === $listed->changed && $now->bytes === $listed->bytes;
            // The same is listed, and less of it came: it is the reading that fails, whatever the phone calls it.
            if ($isSteady && (!$pulled->isWhole || $pulled->bytes < $listed->bytes)) {
                if (++$readings > self::READING_ATTEMPTS) {
                    return new Pulled($pulled->bytes, $listed->bytes, '', false);
                }
                continue;
            }
            if ($isSteady && $pulled->bytes === $listed->bytes) {
                // Twice the same, a while apart, is as good as an old mark: clocks of phones are not always right.
                if ($now->changedAt < $startedAt || $before === [$now->changed, $pulled->sha256]) {
                    return $pulled;
                }
                usleep(self::MOMENT);
            }
            $before = $isSteady ? [$now->changed, $pulled->sha256] : null;
            $listed = $now;
            ++$attempt;
        }
        throw PhoneRefuses::stillWriting();
    }

    /**
     * @param resource            $sink
     * @param callable(int): void $onBytes
     */
    private static function once(
        PhoneLink $link,
        string $app,
        PhoneFile $listed,
        mixed $sink,
        callable $onBytes,
        int $from = 0,
    ): Pulled {
        try {
            $pulled = $link->pull($app, $listed->path, $sink, $onBytes, $from);
        } catch (FileUnreadable $failure) {
            return new Pulled($failure->bytes(), $listed->bytes, '', false);
        }

        return new Pulled($pulled['bytes'], $listed->bytes, $pulled['sha256'], true);
    }
}
