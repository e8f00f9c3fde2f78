<?php

declare(strict_types=1);

namespace Geschenk\Core\Restore;

use Geschenk\Core\Files\Folder;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Phone\Readiness;
use Geschenk\Core\Progress;

/** Brings a converted data folder onto a phone: staged, verified on the phone, then swapped in as a whole. */
final class Restorer
{
    /**
     * Goes on from what is staged already. Until the swap the messenger sees nothing of it.
     *
     * @param string $stage names this restore; the same name goes on with the same stage
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    public function stage(RestorePermit $permit, PhoneLink $link, string $app, string $folder, string $stage, Progress $progress): void
    {
        $items = 0;
        $bytes = 0;
        foreach (Folder::files($folder) as $path) {
            ++$items;
            $bytes += (int) filesize($folder.'/'.$path);
        }
        $progress->phase('staging', $items, $bytes);
        $there = 0;
        foreach ($link->staged($app, $stage) as $file) {
            $there += $file->bytes;
        }
        $free = $link->state()->free ?? 0;
        $needed = Readiness::spaceNeeded($bytes) - $there;
        if ($free < $needed) {
            throw PhoneRefuses::full($needed, $free);
        }
        foreach (Folder::files($folder) as $path) {
            $full = $folder.'/'.$path;
            if ($link->stagedHash($app, $stage, $path) === hash_file('sha256', $full)) {
                $progress->advance(1, (int) filesize($full));
                continue;
            }
            $this->push($link, $app, $stage, $path, $full, $progress);
            $progress->advance(1);
        }
        $this->verify($link, $app, $folder, $stage, $items, $progress);
    }

    /** For a stage that was verified; called again after an interruption it finishes what it began. */
    public function swapIn(PhoneLink $link, string $app, string $stage, Progress $progress): void
    {
        $progress->phase('swapping');
        $link->swap($app, $stage);
        $link->restart();
    }

    private function push(PhoneLink $link, string $app, string $stage, string $path, string $full, Progress $progress): void
    {
        $source = fopen($full, 'r');
        if (false === $source) {
            throw new \RuntimeException(sprintf('%s can\'t be read.', $full));
        }
        try {
            $link->push($app, $stage, $path, $source, static fn (int $bytes) => $progress->advance(0, $bytes));
        } finally {
            fclose($source);
        }
    }

    private function verify(PhoneLink $link, string $app, string $folder, string $stage, int $items, Progress $progress): void
    {
        $progress->phase('verifying', $items);
        $found = 0;
        foreach ($link->staged($app, $stage) as $_) {
            ++$found;
        }
        foreach (Folder::files($folder) as $path) {
            if ($link->stagedHash($app, $stage, $path) !== hash_file('sha256', $folder.'/'.$path)) {
                throw new \RuntimeException(sprintf('%s did not reach the phone whole. Nothing was changed on it; go on to bring it again.', $path));
            }
            $progress->advance(1);
        }
        if ($found !== $items) {
            throw new \RuntimeException(sprintf('The phone has %d staged files where %d belong. Nothing was changed on it.', $found, $items));
        }
    }
}
