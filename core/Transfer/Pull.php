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

    /**
     * Pulls a file as it was at one moment. It appears under its name when it is whole and on the disk; so does what
     * came of one that the phone can't read to its end.
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
    ): Pulled {
        Folder::make(dirname($target));
        $pulled = self::steady($link, $app, $path, static function (PhoneFile $listed) use (
            $link, $app, $path, $piece, $onBytes,
        ): Pulled {
            $sink = Disk::open($piece, 'w');
            $pulled = self::once($link, $app, $listed, $sink, $onBytes);
            Disk::finish($sink, $path);

            return $pulled;
        });
        if (!Disk::quietly(static fn (): bool => rename($piece, $target))) {
            throw Disk::failure('rename', $target);
        }

        return $pulled;
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
            if ($isSteady && !$pulled->isWhole) {
                if (++$readings > self::READING_ATTEMPTS) {
                    return $pulled;
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
    ): Pulled {
        try {
            $pulled = $link->pull($app, $listed->path, $sink, $onBytes);
        } catch (FileUnreadable $failure) {
            return new Pulled($failure->bytes(), $listed->bytes, '', false);
        }

        return new Pulled($pulled['bytes'], $listed->bytes, $pulled['sha256'], true);
    }
}
