<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Files\Content\HeadSink;
use Geschenk\Core\Files\Content\Manifest;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Progress;

/** Whether an app's data on a phone is, to the last byte, what it was when its safety copy was taken. */
final class PutBack
{
    /**
     * Reads every file back from the phone. To be asked before the messenger opens what was put there.
     *
     * @param Manifest $manifest of the safety copy's files
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws RestoreRefused naming the first file that is not as it was
     */
    public static function check(PhoneLink $link, string $app, Manifest $manifest, Progress $progress): void
    {
        $progress->phase('reading_back', $manifest->files, $manifest->bytes);
        $there = 0;
        $pull = new Pull($link, $app);
        foreach ($link->files($app) as $_) {
            ++$there;
        }
        foreach ($manifest->entries() as $file) {
            $found = $link->file($app, $file['path']);
            $hash = null === $found
                ? null
                : $pull->into($file['path'], static fn (): mixed => HeadSink::open())->sha256;
            if ($hash !== $file['sha256']) {
                throw RestoreRefused::notAsBefore($file['path']);
            }
            $progress->advance(1, $file['bytes']);
        }
        if ($there !== $manifest->files) {
            throw RestoreRefused::otherFilesThanBefore($there, $manifest->files);
        }
    }
}
