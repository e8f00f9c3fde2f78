<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Phone\FileUnreadable;
use Geschenk\Core\Phone\PhoneFile;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;

/** Brings single files over the cable: what came is held against what was listed, before and after. */
final readonly class Pull
{
    private const ATTEMPTS = 5;
    private const READING_ATTEMPTS = 3;
    /** Microseconds: a change mark of this very second is not to be relied on, one of the last second is. */
    private const MOMENT = 1_050_000;
    /** Bytes that have to come of a file for it to go on where it was interrupted, and those lost to a kill at most. */
    private const WORTH_KEEPING = 4_000_000;
    private const NOTED_EVERY = 64_000_000;

    /** @var \Closure(int): void */
    private \Closure $onBytes;

    /**
     * @param string                   $app     id of the app whose files they are
     * @param callable(int): void|null $onBytes
     * @param PullJournal|null         $journal with it a large file goes on from where it was interrupted, and a small
     *                                          one is on the disk only once whoever keeps it has waited for it
     */
    public function __construct(
        private PhoneLink $link,
        private string $app,
        ?callable $onBytes = null,
        private ?PullJournal $journal = null,
    ) {
        $this->onBytes = null === $onBytes ? static function (int $bytes): void {} : $onBytes(...);
    }

    /**
     * Pulls a file as it was at one moment. It appears under its name when it is whole and on the disk; so does what
     * came of one that the phone can't read to its end.
     *
     * @param string|null $piece where the file is until then, on the same disk; null for beside it
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses when it is gone, or is written to all the time
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function file(string $path, string $target, ?string $piece = null): Pulled
    {
        $piece ??= $target.'.part';
        Folder::make(dirname($target));
        $here = $piece;
        $pulled = $this->steady($path, function (PhoneFile $listed) use ($piece, &$here): Pulled {
            if (null === $this->journal || $listed->bytes < self::WORTH_KEEPING) {
                $here = $piece;

                return $this->fromItsBeginning($listed, $piece);
            }
            // In a file of its own, which nothing else is ever written to: what is noted of it is in it.
            $here = self::begun($piece);

            return $this->goingOn($listed, $here, $this->journal);
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

    private function fromItsBeginning(PhoneFile $listed, string $piece): Pulled
    {
        $sink = Disk::open($piece, 'w');
        $pulled = $this->once($listed, $sink, $this->onBytes);
        null === $this->journal ? Disk::finish($sink, $listed->path) : Disk::close($sink, $listed->path);

        return $pulled;
    }

    /**
     * Notes now and then how much of a large file is on the disk, and goes on from there where the phone still lists
     * the same of it.
     */
    private function goingOn(PhoneFile $listed, string $piece, PullJournal $journal): Pulled
    {
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
            $pulled = $this->once($listed, $sink, function (int $bytes) use ($note, &$there, &$noted): void {
                $there += $bytes;
                if ($there - $noted >= self::NOTED_EVERY) {
                    $note();
                }
                ($this->onBytes)($bytes);
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
    public function into(string $path, callable $sink): Pulled
    {
        return $this->steady(
            $path, fn (PhoneFile $listed): Pulled => $this->once($listed, $sink(), $this->onBytes),
        );
    }

    /**
     * @param callable(PhoneFile): Pulled $pull
     */
    private function steady(string $path, callable $pull): Pulled
    {
        $listed = $this->link->file($this->app, $path) ?? throw PhoneRefuses::noFile($path);
        $before = null;
        for ($attempt = 1, $readings = 1; $attempt <= self::ATTEMPTS;) {
            $startedAt = time();
            $pulled = $pull($listed);
            $now = $this->link->file($this->app, $path) ?? throw PhoneRefuses::noFile($path);
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
    private function once(PhoneFile $listed, mixed $sink, callable $onBytes, int $from = 0): Pulled
    {
        try {
            $pulled = $this->link->pull($this->app, $listed->path, $sink, $onBytes, $from);
        } catch (FileUnreadable $failure) {
            return new Pulled($failure->bytes(), $listed->bytes, '', false);
        }

        return new Pulled($pulled['bytes'], $listed->bytes, $pulled['sha256'], true);
    }
}
