<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Files\Content\Contents;
use Geschenk\Core\Files\Content\Manifest;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Phone\Demand;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Phone\Sending;
use Geschenk\Core\Phone\Staging;
use Geschenk\Core\Progress;
use Geschenk\Core\UnusableInput;

/**
 * Brings what was rehearsed onto a phone: staged, verified on the phone, then swapped in as a whole. The measure of all
 * three is the manifest that the rehearsal left, never what the folder holds by now.
 */
final class Restorer
{
    /** Bytes from which a file that was interrupted goes on where it was. */
    private const LARGE = 4_000_000;

    /**
     * Goes on from what is staged already. Until the swap the messenger sees nothing of it.
     *
     * @param Staging  $to   its name is this restore's; the same name goes on with the same stage
     * @param Contents $from what was converted, or kept
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws RestoreRefused when a file is no longer what was rehearsed
     */
    public function stage(
        RestorePermit $permit,
        Staging $to,
        Contents $from,
        Manifest $manifest,
        Progress $progress,
    ): StagedRestore {
        if (0 === $manifest->files) {
            throw RestoreRefused::nothingRehearsed();
        }
        $progress->phase('staging', $manifest->files, $manifest->bytes);
        self::ensureSpace($to, $manifest);
        foreach ($manifest->entries() as $file) {
            if ($to->hash($file['path']) === $file['sha256']) {
                $progress->advance(1, $file['bytes']);
                continue;
            }
            // What the phone holds already, a merge brings again: no cable is needed for it.
            if ($to->link->file($to->app, $file['path'])?->bytes === $file['bytes']
                && $to->takeOver($file['path'], $file['sha256'])) {
                $progress->advance(1, $file['bytes']);
                continue;
            }
            self::push($to, $from, $file, $progress);
            $progress->advance(1);
        }

        return $this->verify($to, $manifest, $progress);
    }

    /**
     * Holds what is staged against what was rehearsed, file by file, as the phone itself hashes them.
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    public function verify(Staging $to, Manifest $manifest, Progress $progress): StagedRestore
    {
        if (0 === $manifest->files) {
            throw RestoreRefused::nothingRehearsed();
        }
        $progress->phase('verifying', $manifest->files);
        $found = 0;
        foreach ($to->all() as $_) {
            ++$found;
        }
        foreach ($manifest->entries() as $file) {
            if ($to->hash($file['path']) !== $file['sha256']) {
                throw RestoreRefused::notWhole($file['path']);
            }
            $progress->advance(1);
        }
        if ($found !== $manifest->files) {
            throw RestoreRefused::otherFiles($found, $manifest->files);
        }

        return new StagedRestore($to->app, $to->name, $manifest);
    }

    /**
     * The one step that destroys. The permit must be fresh: the phone's data may not have changed since it was given.
     *
     * @param callable(): void|null $before done before the phone is started anew, and locks itself
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses when the phone's data has changed since the permit was given
     */
    public function swapIn(
        RestorePermit $permit,
        StagedRestore $staged,
        PhoneLink $link,
        Progress $progress,
        ?callable $before = null,
    ): void {
        $progress->phase('swapping');
        $link->swap($staged->app, $staged->stage, $permit->seen);
        null === $before ?: $before();
        $link->restart();
    }

    private static function ensureSpace(Staging $to, Manifest $manifest): void
    {
        $there = 0;
        foreach ($to->all() as $file) {
            $there += $file->bytes;
        }
        foreach ($manifest->entries() as $file) {
            $there += $file['bytes'] >= self::LARGE ? $to->beginning($file['path']) : 0;
        }
        $free = $to->link->state()->free ?? 0;
        // Only for what is still to come.
        $needed = Demand::withMargin(max(0, $manifest->bytes - $there));
        if ($free < $needed) {
            throw PhoneRefuses::full($needed, $free);
        }
    }

    /** @param array{path: string, bytes: int, sha256: string} $file */
    private static function push(Staging $to, Contents $contents, array $file, Progress $progress): void
    {
        $path = $file['path'];
        try {
            $isSame = $contents->bytes($path) === $file['bytes'] && $contents->sha256($path) === $file['sha256'];
        } catch (DiskFailure|UnusableInput) {
            $isSame = false;
        }
        if (!$isSame) {
            throw RestoreRefused::changedSinceRehearsal($path);
        }
        $from = $file['bytes'] >= self::LARGE ? $to->beginning($file['path']) : 0;
        $from = $from <= $file['bytes'] ? $from : 0;
        self::send($to, $contents, $path, $from, $progress);
        if ($from > 0 && $to->hash($file['path']) !== $file['sha256']) {
            // Its beginning was not what had been sent.
            self::send($to, $contents, $path, 0, $progress);
        }
    }

    private static function send(Staging $to, Contents $contents, string $path, int $from, Progress $progress): void
    {
        $source = $contents->open($path);
        try {
            if (0 !== fseek($source, $from)) {
                throw DiskFailure::at('read', $path);
            }
            $progress->advance(0, $from);
            $to->push($path, new Sending($source, static fn (int $bytes) => $progress->advance(0, $bytes), $from));
        } finally {
            fclose($source);
        }
    }
}
